import type { Album } from '@oiseau/album/model';
import { isDisc, type DiscPart } from '@oiseau/album/layout';
import { cdTextBlocks, unfitTexts, MOST_PACKS, packCount } from '@oiseau/formats/disc';
import { plainText, type Misfit } from '@oiseau/codings';
import type { Finding, Rule } from './finding.js';

/**
 * CD-Text fits into its character set and its packs [IEC 61866]; nothing is dropped silently. A letter that has no plain form in the set is an
 * error of what would write it onto a disc.
 */
export const cdText: Rule = ({ album, parts }) =>
  parts.filter(isDisc).flatMap((part) => (part.tracks.length === 0 ? [] : ofDisc(album, part)));

function ofDisc(album: Album, part: DiscPart): Finding[] {
  // What writes CD-Text onto a disc; where nothing does, nothing is lost yet.
  const writers = album.deliverables.filter(({ kind }) => kind === 'ddp').map(({ name }) => name);
  const found = unfitTexts(album, part).flatMap(
    ({ block, field, song, text, charset, misfits }): Finding[] => {
      const charsOf = (all: readonly Misfit[]): string => [...new Set(all.map(({ char }) => char))].join('');
      const lost = misfits.filter(({ plain }) => plain === null);
      const place = { block, field, song };
      if (lost.length > 0) {
        const words = { code: 'cd-text-lost', ...place, chars: charsOf(lost), charset } as const;
        return writers.length === 0
          ? [{ ...words, severity: 'warning', deliverable: null }]
          : writers.map((deliverable) => ({ ...words, severity: 'error', deliverable }));
      }
      if (album.cdTextPlain) return [];
      const chars = charsOf(misfits);
      return [
        { code: 'cd-text-unfit', severity: 'warning', ...place, chars, plain: plainText(text, charset) },
      ];
    },
  );
  cdTextBlocks(album, part).forEach((each, block) => {
    const packs = packCount(each);
    if (packs > MOST_PACKS)
      found.push({ code: 'cd-text-too-long', severity: 'error', part: part.number, block, packs });
  });
  return found;
}
