import { placeWords, wordFinding, type CheckSubject, type Finding } from '@oiseau/checks';
import { say } from '../ui/messages.js';

/** Findings that say the same of the same place: shown, fixed and accepted as one. */
export interface FindingGroup {
  readonly finding: Finding;
  readonly all: readonly Finding[];
  readonly place: string;
  readonly words: string;
}

/** Findings in their order, those that say the same together at the place of the first. */
export function groupFindings(
  subject: Pick<CheckSubject, 'album' | 'parts'>,
  findings: readonly Finding[],
): FindingGroup[] {
  const groups = new Map<string, FindingGroup>();
  for (const finding of findings) {
    const [place, words] = [say(placeWords(subject, finding)), say(wordFinding(finding))];
    const key = JSON.stringify([finding.severity, place, words, 'song' in finding ? finding.song : null]);
    const all = [...(groups.get(key)?.all ?? []), finding];
    groups.set(key, { finding: all[0] ?? finding, all, place, words });
  }
  return [...groups.values()];
}

/** Of each kind that can be accepted and was found several times: all findings of it, by its code. */
export function acceptedTogether(groups: readonly FindingGroup[]): ReadonlyMap<string, readonly Finding[]> {
  const kinds = new Map<string, FindingGroup[]>();
  for (const group of groups)
    if (group.finding.severity !== 'error')
      kinds.set(group.finding.code, [...(kinds.get(group.finding.code) ?? []), group]);
  return new Map(
    [...kinds].filter(([, of]) => of.length > 1).map(([code, of]) => [code, of.flatMap(({ all }) => all)]),
  );
}
