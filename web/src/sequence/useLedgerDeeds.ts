import {
  editRegion,
  editWords,
  moveInPart,
  moveTracks,
  removeSongs,
  sameValue,
  songOf,
  trackNumber,
  type Album,
} from '@oiseau/core';
import { useAlbum } from '../album/AlbumContext.js';
import type { AlbumState } from '../album/album-store.js';
import { numberedName } from '../album/song-name.js';
import { useTakeBack } from '../album/useTakeBack.js';
import { count } from '../ui/format.js';
import { useNotices } from '../ui/Notices.js';
import { changeWords } from './change-words.js';
import { LEDGER_FIELDS, typed, typedWords, type LedgerFieldName } from './ledger-fields.js';
import type { ChosenSongs } from './useChosenSongs.js';

/** Chosen songs in the order of the album. */
const idsInOrder = ({ songs }: Album, ids: ReadonlySet<string>): string[] =>
  songs.map(({ id }) => id).filter((id) => ids.has(id));

/** All of some songs by some decibels, within −48 to 24. */
const louder = (album: Album, ids: ReadonlySet<string>, by: number): Album =>
  idsInOrder(album, ids).reduce((changed, id) => {
    const gainDb = (songOf(changed, id)?.region.gainDb ?? 0) + by;
    return editRegion(changed, id, { gainDb: Math.max(-48, Math.min(24, gainDb)) });
  }, album);

/** What follows a song after an edit of it: it moves along, or stays where it was before. */
export type KeepAfter = (changed: Album, id: string, before: Pick<AlbumState, 'part' | 'facts'>) => Album;

/**
 * What the ledger does to the album, for one song or for all that are chosen.
 * @param kept what follows a song moves along with an edit of it, or stays where it is in the part as it was
 */
export function useLedgerDeeds(chosen: ChosenSongs, kept: KeepAfter) {
  const { album, part, edit } = useAlbum('album', 'part', 'edit');
  const { tell } = useNotices();
  const undoOf = useTakeBack();
  const { songs, tracks } = part;
  const placeOf = (id: string): number => tracks.findIndex((track) => track.id === id);

  const move = (id: string, to: number): void => {
    const from = placeOf(id);
    const track = tracks[from];
    if (!track || to < 0 || to >= tracks.length || from === to) return;
    chosen.choose(id);
    edit(`“${track.title}” from ${from + 1} to ${to + 1}`, (before) =>
      moveInPart(before, id, part.number, to),
    );
  };
  /** Moves what is chosen, or the one row alone. */
  const moveBy = (id: string, by: -1 | 1): void => {
    if (chosen.ids.size < 2) move(id, placeOf(id) + by);
    else
      edit(`${count(chosen.ids.size, 'track')} moved ${by < 0 ? 'up' : 'down'}`, (before) =>
        moveTracks(before, chosen.ids, by),
      );
  };
  /** @returns the row that is in hand then */
  const remove = (ids: ReadonlySet<string>, at: string): string => {
    const [id = ''] = ids;
    const only = ids.size === 1 && songOf(part, id);
    const what = only ? `“${only.title}”` : count(ids.size, 'track');
    const left = songs.filter((song) => song.numbered && !ids.has(song.id));
    const step = edit(`${what} taken out`, (before) => removeSongs(before, ids));
    tell(
      only
        ? `${what} was taken out of the album; its master stays.`
        : `${what} were taken out of the album; their masters stay.`,
      undoOf(step),
    );
    return left[Math.max(0, Math.min(placeOf(at), left.length - 1))]?.id ?? '';
  };
  /** What is typed into a chosen row is meant for all that are chosen. */
  const type = (id: string, field: LedgerFieldName, text: string): void => {
    const several = chosen.ids.size > 1 && chosen.ids.has(id);
    const words = `${LEDGER_FIELDS[field].what} ${chosen.ids.size} tracks → ${typedWords(field, text)}`;
    edit(several ? words : changeWords, (before, now) => {
      const targets = several ? idsInOrder(before, chosen.ids) : [id];
      const changed = typed(before, targets, field, text, now);
      return sameValue(changed, before) ? before : kept(changed, targets.at(-1) ?? id, now);
    });
  };
  const name = (id: string, title: string): void => {
    const was = songOf(album, id)?.title ?? '';
    const of = numberedName(trackNumber(part, id));
    edit(`title of ${of} “${was}” → “${title}”`, (before) => editWords(before, id, { title }));
  };
  const changeGain = (by: number): void => {
    edit(
      `gain of ${chosen.ids.size} tracks ${by > 0 ? 'up' : 'down'}`,
      (before) => louder(before, chosen.ids, by),
      `gain ${[...chosen.ids].join(' ')} ${Math.sign(by)}`,
    );
  };
  return { placeOf, move, moveBy, remove, type, name, changeGain };
}

export type LedgerDeeds = ReturnType<typeof useLedgerDeeds>;
