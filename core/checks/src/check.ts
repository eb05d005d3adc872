import { msg, verbatim, type Message } from '@oiseau/messages';
import { songOf, type Album, partName, positionOf, trackNumber } from '@oiseau/album/model';
import { alternates } from './alternates.js';
import { cdText } from './cd-text.js';
import { codes } from './codes.js';
import { discLength } from './disc-length.js';
import { ditherTwice } from './dither-twice.js';
import { edgesOfSound } from './edges-of-sound.js';
import { fileNames } from './file-names.js';
import { cover } from './cover.js';
import type { CheckSubject, Finding, Rule, Severity } from './finding.js';
import { firstPause } from './first-pause.js';
import { levels } from './levels.js';
import { lossyPeaks } from './lossy-peaks.js';
import { masterFaults } from './master-faults.js';
import { mastersOfAlbum } from './masters-of-album.js';
import { missingCodes } from './missing-codes.js';
import { noDisc } from './no-disc.js';
import { overlaps } from './overlaps.js';
import { packages } from './packages.js';
import { sections } from './sections.js';
import { regions } from './regions.js';
import { sides } from './sides.js';
import { sound } from './sound.js';
import { startMarks } from './start-marks.js';
import { storeSuspicions } from './store-suspicions.js';
import { textHabits } from './text-habits.js';
import { titles } from './titles.js';
import { trackCount } from './track-count.js';
import { trackLength } from './track-length.js';

/** All rules, in the order in which a person meets them: the sound, the disc, the codes, the words. */
const RULES: readonly Rule[] = [
  trackCount,
  regions,
  overlaps,
  firstPause,
  trackLength,
  startMarks,
  discLength,
  sides,
  noDisc,
  masterFaults,
  levels,
  sound,
  edgesOfSound,
  ditherTwice,
  alternates,
  codes,
  missingCodes,
  titles,
  textHabits,
  cdText,
  cover,
  lossyPeaks,
  sections,
  packages,
  storeSuspicions,
  fileNames,
  mastersOfAlbum,
];

const RANK: Record<Severity, number> = { error: 0, warning: 1, hint: 2 };

/** Everything that is wrong or doubtful, errors first, else in the order of the rules. */
export const checkAlbum = (subject: CheckSubject): Finding[] => findingsOf(RULES, subject);

/** What some of the rules find, in the same order. */
export function findingsOf(rules: readonly Rule[], subject: CheckSubject): Finding[] {
  const found = rules.flatMap((rule) => rule(subject));
  // What a treatment does to a clipped master says that it is clipped: one finding, not two.
  const pressed = new Set(found.flatMap((each) => (each.code === 'clipped-pressed' ? [each.song] : [])));
  return errorsFirst(found.filter((each) => each.code !== 'clipped' || !pressed.has(each.song)));
}

/** In the order of severity, else as they come. */
export const errorsFirst = (findings: readonly Finding[]): Finding[] =>
  [...findings].sort((a, b) => RANK[a.severity] - RANK[b.severity]);

/** The song that a finding concerns; null: the album, or a part of it. */
export const songIn = (finding: Finding): string | null => ('song' in finding ? finding.song : null);

/**
 * The errors that keep deliverables from being rendered: those of the album, and those that concern one of these alone.
 * @param names of the deliverables
 */
export const errorsFor = (findings: readonly Finding[], names: readonly string[]): Finding[] =>
  findings.filter(
    (finding) =>
      finding.severity === 'error' &&
      (!('deliverable' in finding) || finding.deliverable === null || names.includes(finding.deliverable)),
  );

/** Whether a finding is accepted, and the reason; errors can't be accepted. */
export function acceptedReason({ album }: Pick<CheckSubject, 'album'>, finding: Finding): string | null {
  if (finding.severity === 'error') return null;
  const song = songIn(finding);
  return album.accepted.find((each) => each.code === finding.code && each.song === song)?.reason ?? null;
}

/** Where a finding stands, for people: `5 Keeper’s Round`, `Hidden Lamp Lit`, `Disc 2`, `“store”`, `The album`. */
export function placeWords(
  { album, parts }: Pick<CheckSubject, 'album' | 'parts'>,
  finding: Finding,
): Message {
  const id = songIn(finding);
  const several = parts.length > 1;
  if (id === null) {
    if ('deliverable' in finding) return verbatim(`“${finding.deliverable}”`);
    const part = 'part' in finding && several ? parts[finding.part - 1] : undefined;
    return part ? partName(part) : msg('The album');
  }
  const part = parts.find(({ songs }) => songs.some((song) => song.id === id));
  const number = part ? trackNumber(part, id) : null;
  const title = songOf(album, id)?.title ?? '';
  if (number === null || !part) return title ? msg('Hidden {title}', { title }) : msg('Hidden');
  return verbatim(`${several ? positionOf(part, number) : number} ${title}`.trim());
}

/** The album with several findings accepted for one reason, or (reason null) no longer accepted. */
export const acceptFindings = (album: Album, findings: readonly Finding[], reason: string | null): Album =>
  findings.reduce((before, finding) => acceptFinding(before, finding, reason), album);

/** The album with a finding accepted for a reason, or (reason null) no longer accepted. */
export function acceptFinding(album: Album, finding: Finding, reason: string | null): Album {
  const song = songIn(finding);
  const others = album.accepted.filter((each) => each.code !== finding.code || each.song !== song);
  const accepted = reason === null ? others : [...others, { code: finding.code, song, reason }];
  return { ...album, accepted };
}
