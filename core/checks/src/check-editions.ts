import { albumOfEdition, type Edition } from '@oiseau/album/model';
import { layOutAlbum } from '@oiseau/album/layout';
import { checkAlbum, errorsFirst, findingsOf } from './check.js';
import { alternates } from './alternates.js';
import { codes } from './codes.js';
import { cover } from './cover.js';
import { ditherTwice } from './dither-twice.js';
import { editionFindings } from './edition-rules.js';
import type { CheckSubject, Finding, Rule } from './finding.js';
import { masterFaults } from './master-faults.js';
import { mastersOfAlbum } from './masters-of-album.js';
import { missingCodes } from './missing-codes.js';
import { textHabits } from './text-habits.js';
import { titles } from './titles.js';

/** Rules about the album's text and masters, which all editions share. */
const ALBUM_RULES: readonly Rule[] = [
  masterFaults,
  ditherTwice,
  alternates,
  codes,
  missingCodes,
  titles,
  textHabits,
  cover,
  mastersOfAlbum,
];

/** What was found in an edition, or in the album itself. */
export interface EditionFindings {
  /** null: the album or its masters. */
  readonly edition: string | null;
  /** The album of the edition, by which findings are worded. */
  readonly subject: CheckSubject;
  /** Errors first. */
  readonly findings: readonly Finding[];
}

/** What a finding says, whatever place its track has on the album or an edition. */
const keyOf = (finding: Finding): string =>
  JSON.stringify({ ...finding, first: undefined, part: undefined, rates: undefined });

/** The rules' view of an edition. */
function subjectOfEdition(subject: CheckSubject, edition: Edition): CheckSubject {
  const album = albumOfEdition(subject.album, edition);
  return { ...subject, album, parts: layOutAlbum(album, subject.masters) };
}

/**
 * Everything that is wrong or doubtful in an album and its editions, each finding once: what concerns the album or its masters first, then
 * what each edition has of its own. An album without editions is one list.
 */
export function checkEditions(subject: CheckSubject): EditionFindings[] {
  const { editions } = subject.album;
  if (editions.length === 0) return [{ edition: null, subject, findings: checkAlbum(subject) }];
  const ofAlbum = findingsOf(ALBUM_RULES, subject);
  const known = new Set(ofAlbum.map(keyOf));
  return [
    { edition: null, subject, findings: ofAlbum },
    ...editions.map((edition): EditionFindings => {
      const own = subjectOfEdition(subject, edition);
      const found = checkAlbum(own).filter(
        (finding) => finding.code !== 'masters-unused' && !known.has(keyOf(finding)),
      );
      return {
        ...{ edition: edition.name, subject: own },
        findings: errorsFirst([...found, ...editionFindings(subject.album, edition)]),
      };
    }),
  ];
}

/** The findings of an album and all its editions as one list, errors first; what several editions have in common is in it once. */
export function checkWhole(subject: CheckSubject): Finding[] {
  if (subject.album.editions.length === 0) return checkAlbum(subject);
  const all = checkEditions(subject).flatMap(({ findings }) => findings);
  return errorsFirst([...new Map(all.map((finding) => [JSON.stringify(finding), finding])).values()]);
}
