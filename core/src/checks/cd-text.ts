import type { Album } from '../album/album.js';
import { isDisc, type DiscPart } from '../album/part.js';
import { cdTextBlocks, unfitTexts } from '../disc/cd-text.js';
import { plainText } from '../disc/cd-text-charset.js';
import { MOST_PACKS, packCount } from '../disc/cd-text-packs.js';
import type { Finding, Rule } from './finding.js';

/** CD-Text fits into its character set and its packs [IEC 61866]; nothing is dropped silently. */
export const cdText: Rule = ({ album, parts }) =>
  parts.filter(isDisc).flatMap((part) => (part.tracks.length === 0 ? [] : ofDisc(album, part)));

function ofDisc(album: Album, part: DiscPart): Finding[] {
  const charsets = [album.cdTextCharset, album.secondLanguage?.charset ?? album.cdTextCharset];
  const unfit = album.cdTextPlain ? [] : unfitTexts(album, part);
  const found = unfit.map(({ block, field, song, text, misfits }): Finding => {
    const charset = charsets[block] ?? album.cdTextCharset;
    const chars = [...new Set(misfits.map(({ char }) => char))].join('');
    return {
      code: 'cd-text-unfit',
      severity: 'warning',
      ...{ block, field, song, chars },
      plain: plainText(text, charset),
    };
  });
  cdTextBlocks(album, part).forEach((each, block) => {
    const packs = packCount(each);
    if (packs > MOST_PACKS)
      found.push({ code: 'cd-text-too-long', severity: 'error', part: part.number, block, packs });
  });
  return found;
}
