import { framesToTicks, parseMsf } from './frames.js';
import { secondsToTicks, ticks, ticksToSeconds, type Ticks } from './ticks.js';

/** `M:SS` or `H:MM:SS`, rounded to `decimals` places of a second; a minus sign for negative times. */
export function formatClock(value: Ticks, decimals = 0): string {
  const sign = value < 0 ? '−' : '';
  const scale = 10 ** decimals;
  const units = Math.round(Math.abs(ticksToSeconds(value)) * scale);
  const wholeSeconds = Math.floor(units / scale);
  const fraction = decimals > 0 ? `.${String(units % scale).padStart(decimals, '0')}` : '';
  const hours = Math.floor(wholeSeconds / 3600);
  const minutes = Math.floor(wholeSeconds / 60) % 60;
  const seconds = String(wholeSeconds % 60).padStart(2, '0');
  const head = hours > 0 ? `${hours}:${String(minutes).padStart(2, '0')}` : String(minutes);
  return `${sign}${head}:${seconds}${fraction}`;
}

/** A rate for people: `44.1 kHz`. */
export const formatRate = (hz: number): string => `${Number((hz / 1000).toFixed(3))} kHz`;

/**
 * Reads a time as a person types it: seconds (`2`, `1.4`, `-0.5`, `1,4 s`), milliseconds (`250 ms`),
 * minutes and seconds (`1:02.5`), disc time (`00:02:00`, MM:SS:FF), or beats (`2 beats`). Undefined when it is none of these.
 * @param beat ticks from one beat to the next, where there is a tempo to count in; beats are not understood without
 */
export function parseTime(text: string, beat?: number): Ticks | undefined {
  const clean = text.trim().replace(/^[−–]/, '-').replace(',', '.');
  const discTime = parseMsf(clean.replace(/^-/, ''));
  if (discTime !== undefined) {
    const value = framesToTicks(discTime);
    return clean.startsWith('-') ? ticks(-value) : value;
  }
  const milliseconds = /^(-?\d+(?:\.\d*)?)\s*ms$/.exec(clean);
  if (milliseconds) return secondsToTicks(Number(milliseconds[1]) / 1000);
  const beats = /^(-?\d+(?:\.\d*)?)\s*beats?$/.exec(clean);
  if (beats) return beat === undefined ? undefined : ticks(Math.round(Number(beats[1]) * beat));
  const clock = /^(-?)(\d+):([0-5]?\d(?:\.\d*)?)$/.exec(clean);
  if (clock) {
    const value = secondsToTicks(Number(clock[2]) * 60 + Number(clock[3]));
    return clock[1] ? ticks(-value) : value;
  }
  const seconds = /^(-?(?:\d+(?:\.\d*)?|\.\d+))\s*s?$/.exec(clean);
  return seconds ? secondsToTicks(Number(seconds[1])) : undefined;
}
