import type { AlbumRecord, MasterRecord } from '@oiseau/api';
import { layOutAlbum, type Part } from '@oiseau/album/layout';
import { albumOfEdition, mastersPlayed, type Album, type MasterFactsByKey } from '@oiseau/album/model';
import { startEditing, type Editing } from './history.js';

/** The album in hand, with what follows from it. */
export interface AlbumState {
  /** The whole album, with all its editions. */
  readonly editing: Editing;
  /** The edition that is shown, as an album of its own; the album itself where it has no editions. */
  readonly album: Album;
  /** Name of the edition that is shown; empty: the album has none. */
  readonly edition: string;
  readonly masters: readonly MasterRecord[];
  readonly mastersById: ReadonlyMap<string, MasterRecord>;
  /** Rate and length of every master that the album plays, in any of its recordings. */
  readonly facts: MasterFactsByKey;
  /** The album laid out. */
  readonly parts: readonly Part[];
  /** The part that is shown and heard. */
  readonly part: Part;
  /** What a drag would make of the album and of the part that is shown, while it goes on: laid out once, for every view and for the player. */
  readonly draft: Draft | null;
}

/** An edit that is not made yet. */
export interface Draft {
  readonly album: Album;
  readonly part: Part;
}

/** An edit: what becomes of the album, as it stands when the edit is made; `now` is what follows from it there. */
export type AlbumChange = (album: Album, now: Pick<AlbumState, 'part' | 'facts'>) => Album;

/** An album laid out, with facts of all masters of the whole album; a song whose master the server has not told of yet counts as silent for the moment. */
export function laidOut(
  album: Album,
  whole: Album,
  mastersById: ReadonlyMap<string, MasterRecord>,
  number: number,
) {
  const facts = new Map(
    mastersPlayed(whole).map((master) => [
      master,
      mastersById.get(master)?.info ?? { rate: 44_100, length: 0 },
    ]),
  );
  const parts = layOutAlbum(album, facts);
  return { facts, parts, part: parts[Math.min(number, parts.length) - 1] ?? parts[0] };
}

/** The edition of a name as an album of its own; where there is none of that name, the first. */
export function shownEdition(
  whole: Album,
  name: string,
): { readonly album: Album; readonly edition: string } {
  const edition = whole.editions.find((each) => each.name === name) ?? whole.editions[0];
  return edition
    ? { album: albumOfEdition(whole, edition), edition: edition.name }
    : { album: whole, edition: '' };
}

export const byKey = (masters: readonly MasterRecord[]): ReadonlyMap<string, MasterRecord> =>
  new Map(masters.map((master) => [master.sha256, master]));

/** An album as it was loaded. */
export function stateOf(record: AlbumRecord, masters: readonly MasterRecord[]): AlbumState {
  const { album, version } = record;
  const mastersById = byKey(masters);
  const shown = shownEdition(album, '');
  return {
    ...{ editing: startEditing(album, version), ...shown, masters, mastersById, draft: null },
    ...laidOut(shown.album, album, mastersById, 1),
  };
}
