import { figure, msg, type Figure, type Value } from '@oiseau/messages';
import { constantOf, rangeOf, type MovingDb } from './automation.js';

/** A constant in dB, with its sign. */
export const decibels = (db: number): Figure =>
  figure(`${db > 0 ? '+' : db < 0 ? '−' : ''}${Math.abs(db)} dB`);

/** A value that may be automated: `+1 dB`, or `−2 dB to +1 dB`. */
export function movingWords(value: MovingDb): Value {
  const constant = constantOf(value);
  if (constant !== null) return decibels(constant);
  const { least, most } = rangeOf(value);
  return msg('{least} to {most}', { least: decibels(least), most: decibels(most) });
}

/** A frequency: `900 Hz`, `1.2 kHz`. */
export const hertz = (hz: number): Figure =>
  figure(hz >= 1000 ? `${Math.round(hz / 100) / 10} kHz` : `${Math.round(hz)} Hz`);
