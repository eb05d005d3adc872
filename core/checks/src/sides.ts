import type { Part } from '@oiseau/album/layout';
import { nameOfSide, sideQuestion, type SideMoment } from '@oiseau/album/measured';
import { framesToTicks, frames, secondsToTicks, ticks } from '@oiseau/audio/time';
import type { CheckSubject, Finding, Rule } from './finding.js';

/** Sides of one record that lie further apart are asked about: three minutes. */
const APART = framesToTicks(frames(3 * 60 * 75));
/** Bass this far to the sides is wide, dB against the middle. */
const WIDE_DB = -10;
/** A last third this much brighter than the rest costs, dB. */
const BRIGHTER_DB = 2;

/** What a cutting room would ask about the sides of a record (docs/rules.md 11.6). */
export const sides: Rule = ({ parts, sides: measured }: CheckSubject) => {
  const all = parts.filter(({ kind }) => kind === 'side');
  return all.flatMap((part) => [...unevenness(part, all), ...ofSound(part, measured)]);
};

function unevenness(part: Part, all: readonly Part[]): Finding[] {
  const other = all.find(
    ({ number, discNumber }) => number !== part.number && discNumber === part.discNumber,
  );
  const by = ticks(part.placement.end - (other?.placement.end ?? part.placement.end));
  return other && by > APART
    ? [{ code: 'sides-uneven', severity: 'hint', part: part.number, other: other.label, by }]
    : [];
}

function ofSound(part: Part, measured: CheckSubject['sides']): Finding[] {
  const question = sideQuestion(part);
  const figures = question && measured?.get(nameOfSide(question));
  if (!figures) return [];
  const { bassCorrelation, bassWidthDb, brighterDb } = figures;
  const told = (
    code: 'bass-against' | 'bass-wide' | 'bright-inside',
    severity: 'warning' | 'hint',
    moment: SideMoment | null,
    isTooMuch: (value: number) => boolean,
  ): Finding[] =>
    moment && isTooMuch(moment.value)
      ? [{ code, severity, part: part.number, at: secondsToTicks(moment.at), value: moment.value }]
      : [];
  const against = told('bass-against', 'warning', bassCorrelation, (value) => value < 0);
  return [
    ...against,
    // What works against each other is wide as well.
    ...(against.length > 0 ? [] : told('bass-wide', 'hint', bassWidthDb, (value) => value > WIDE_DB)),
    ...told('bright-inside', 'hint', brighterDb, (value) => value > BRIGHTER_DB),
  ];
}
