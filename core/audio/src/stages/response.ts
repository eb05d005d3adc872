import type { Band, Equaliser } from './equaliser-settings.js';
import { valueAt } from './automation.js';
import { bell, highCut, highShelf, lowCut, lowShelf, powerOf, type AnalogueSection } from './prototype.js';

/** The prototype of a band at one gain. */
export function prototypeOf(band: Band, db: number): AnalogueSection[] {
  switch (band.kind) {
    case 'bell':
      return [bell(db, band.q)];
    case 'low-shelf':
      return [lowShelf(db, band.q)];
    case 'high-shelf':
      return [highShelf(db, band.q)];
    case 'low-cut':
      return lowCut(band.slope);
    case 'high-cut':
      return highCut(band.slope);
    default:
      return band satisfies never;
  }
}

/**
 * What bands do at a frequency, dB: the response of their prototypes, to which the digital ones keep (docs/rules.md 10).
 * @param seconds the moment, for values that move
 */
export const responseDb = (bands: Equaliser, hz: number, seconds = 0): number =>
  bands.reduce((sum, band) => {
    const db = 'db' in band ? valueAt(band.db, 1000)(1000 * seconds) : 0;
    const power = prototypeOf(band, db).reduce((all, section) => all * powerOf(section, band.hz, hz), 1);
    return sum + 10 * Math.log10(Math.max(1e-12, power));
  }, 0);
