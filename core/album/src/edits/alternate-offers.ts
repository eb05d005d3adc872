import { titleFromFileName } from './edit.js';
import type { Album } from '../model/album.js';
import type { AlternateOffer } from './alternate-edits.js';

/** What people call recordings beside the master, as they stand at the end of a file's name, and the name that each gets here. */
const KNOWN: readonly (readonly [RegExp, string])[] = [
  [/^(inst|instr|instrumentals?|no vocals?|without vocals?|backing( track)?)$/, 'instrumental'],
  [/^(a ?capp?ell?as?|vocals? only|vocals?|vox|voice)$/, 'a cappella'],
  [/^(clean|clean (version|edit)|radio clean)$/, 'clean'],
  [/^(explicit|dirty)$/, 'explicit'],
  [/^(tv|tv mix|tv track)$/, 'tv'],
  [/^karaoke$/, 'karaoke'],
  [/^(vocals? up|vox up)$/, 'vocal up'],
  [/^(vocals? down|vox down)$/, 'vocal down'],
  [/^(drums?|percussion|bass|guitars?|keys|piano|strings|brass|synths?|choir|effects|fx)( stems?)?$/, ''],
];
/** Words that say nothing more. */
const FILLERS = /\s+(version|mix|master|mastered|track|stem)$/;
/** How far lengths may lie apart, seconds: of a name that is known, and of any other name in brackets. */
const ABOUT_S = 2;
const ALIKE_S = 0.05;

/** A master as far as it is looked at here. */
export interface OfferedMaster {
  readonly sha256: string;
  readonly name: string;
  readonly seconds: number;
}

/** Letters and digits alone, so that “Glass Ledger” and “glass_ledger” are one. */
export const bareName = (text: string): string =>
  text
    .normalize('NFKD')
    .toLowerCase()
    .replace(/[^\p{L}\p{N}]+/gu, '');

const tidy = (text: string): string =>
  text
    .toLowerCase()
    .replace(/[\s_.-]+/g, ' ')
    .trim();

/** What a recording is called by the end of a name; null where that is no known word. */
function knownName(words: string): string | null {
  const plain = tidy(words);
  for (const text of [plain, plain.replace(FILLERS, '')]) {
    const found = KNOWN.find(([pattern]) => pattern.test(text));
    if (found) return found[1] || text.replace(/ stems?$/, '');
  }
  return null;
}

interface Reading {
  readonly song: string;
  readonly name: string;
  readonly known: boolean;
}

/** The ways in which a file's name can be read as that of a recording of a song. */
function readings(fileName: string): Reading[] {
  const title = titleFromFileName(fileName);
  const bracketed = /^(.+?)\s*[([]([^()[\]]{1,40})[)\]]$/.exec(title);
  const found: Reading[] = [];
  const [, before = '', inside = ''] = bracketed ?? [];
  if (bracketed) {
    const known = knownName(inside);
    found.push({ song: before, name: known ?? tidy(inside), known: known !== null });
  }
  // “song_acapella”, “Song - Instrumental Mix”: the longest known words at the end.
  const words = title.split(/[\s_]+/);
  for (let n = Math.min(3, words.length - 1); n > 0; n--) {
    const known = knownName(words.slice(-n).join(' '));
    if (known) found.push({ song: words.slice(0, -n).join(' '), name: known, known: true });
  }
  return found.filter(({ name }) => name !== '' && name !== 'main');
}

/**
 * Masters that look like other recordings of songs of an album, by their names and lengths. Those that a song has already are left out, and of
 * two for one place the second.
 * @param masters those of the album, in the order in which they are to be offered
 */
export function offerAlternates(
  { songs }: Pick<Album, 'songs'>,
  masters: readonly OfferedMaster[],
): AlternateOffer[] {
  const byKey = new Map(masters.map((master) => [master.sha256, master]));
  const taken = new Set(
    songs.flatMap(({ alternates }) => Object.values(alternates).map(({ master }) => master)),
  );
  const filled = new Set(
    songs.flatMap(({ id, alternates }) => Object.keys(alternates).map((name) => `${id} ${name}`)),
  );
  return masters.flatMap((master): AlternateOffer[] => {
    if (taken.has(master.sha256)) return [];
    for (const { song: title, name, known } of readings(master.name)) {
      const song = songs.find((each) => {
        const own = byKey.get(each.region.master);
        if (!own || own.sha256 === master.sha256) return false;
        const apart = Math.abs(own.seconds - master.seconds);
        return (
          apart <= (known ? ABOUT_S : ALIKE_S) &&
          [each.title, titleFromFileName(own.name)].some((text) => bareName(text) === bareName(title))
        );
      });
      const place = `${song?.id} ${name}`;
      if (!song || filled.has(place)) continue;
      filled.add(place);
      return [{ song: song.id, name, master: master.sha256 }];
    }
    return [];
  });
}
