import { editRegion, editWords, moveInPart, moveTracks, removeSongs, sameValue } from '@oiseau/album/edits';
import { partName, songOf, type Album } from '@oiseau/album/model';
import { useAlbum } from '../album/AlbumContext.js';
import type { AlbumState } from '../workspace/album-state.js';
import { songName } from '../album/song-name.js';
import { useTakeBack } from '../album/useTakeBack.js';
import { useNotices } from '../ui/Notices.js';
import { changeWords } from './change-words.js';
import { TRACK_FIELDS, typed, typedWords, type TrackFieldName } from './track-fields.js';
import { placeBeside, placeOfTrack, type TrackPlace } from './track-places.js';
import { placeWords } from './place-words.js';
import type { ChosenSongs } from './useChosenSongs.js';
import { say, t } from '../ui/messages.js';

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
 * What the track table does to the album, for one song or for all that are chosen.
 * @param kept what follows a song moves along with an edit of it, or stays where it is in the part as it was
 */
export function useTrackActions(chosen: ChosenSongs, kept: KeepAfter) {
  const { album, parts, edit, showPart } = useAlbum('album', 'parts', 'edit', 'showPart');
  const { tell } = useNotices();
  const undoOf = useTakeBack();
  const { songs } = album;

  const move = (id: string, { part: number, to }: TrackPlace): void => {
    const from = placeOfTrack(parts, id);
    const [own, target] = [parts[(from?.part ?? 0) - 1], parts[number - 1]];
    if (!from || !own || !target || (from.part === number && from.to === to)) return;
    chosen.choose(id);
    const words = own === target ? String(to + 1) : say(partName(target));
    edit(
      t('“{title}” from {from} to {to}', {
        title: songOf(album, id)?.title ?? '',
        from: placeWords(own, from.to),
        to: words,
      }),
      (before) => moveInPart(before, id, number, to),
    );
    showPart(number);
  };
  /** Moves what is chosen, or the one row alone. */
  const moveBy = (id: string, by: -1 | 1): void => {
    const beside = placeBeside(parts, id, by);
    if (chosen.ids.size < 2) {
      if (beside) move(id, beside);
    } else
      edit(
        by < 0
          ? t('{count, plural, one {# track} other {# tracks}} moved up', { count: chosen.ids.size })
          : t('{count, plural, one {# track} other {# tracks}} moved down', { count: chosen.ids.size }),
        (before) => moveTracks(before, chosen.ids, by),
      );
  };
  /** @returns the row that is in hand then */
  const remove = (ids: ReadonlySet<string>, at: string): string => {
    const [id = ''] = ids;
    const only = ids.size === 1 && songOf(album, id);
    const what = only
      ? `“${only.title}”`
      : t('{count, plural, one {# track} other {# tracks}}', { count: ids.size });
    const left = songs.filter((song) => song.numbered && !ids.has(song.id));
    const step = edit(t('{what} removed', { what }), (before) => removeSongs(before, ids));
    tell(
      only
        ? t('{what} was removed from the album; its master is kept.', { what })
        : t('{what} were removed from the album; their masters are kept.', { what }),
      undoOf(step),
    );
    const place = songs.filter(({ numbered }) => numbered).findIndex((song) => song.id === at);
    return left[Math.max(0, Math.min(place, left.length - 1))]?.id ?? '';
  };
  /** What is typed into a chosen row is meant for all that are chosen. */
  const type = (id: string, field: TrackFieldName, text: string): void => {
    const several = chosen.ids.size > 1 && chosen.ids.has(id);
    const words = TRACK_FIELDS[field].changed(chosen.ids.size, typedWords(field, text));
    edit(several ? words : changeWords, (before, now) => {
      const targets = several ? idsInOrder(before, chosen.ids) : [id];
      const changed = typed(before, targets, field, text, now);
      return sameValue(changed, before) ? before : kept(changed, targets.at(-1) ?? id, now);
    });
  };
  const name = (id: string, title: string): void => {
    const was = songOf(album, id)?.title ?? '';
    const of = songName(parts, id);
    edit(t('title of {of} “{was}” → “{title}”', { of, was, title }), (before) =>
      editWords(before, id, { title }),
    );
  };
  const changeGain = (by: number): void => {
    edit(
      by > 0
        ? t('gain of {count} tracks up', { count: chosen.ids.size })
        : t('gain of {count} tracks down', { count: chosen.ids.size }),
      (before) => louder(before, chosen.ids, by),
      `gain ${[...chosen.ids].join(' ')} ${Math.sign(by)}`,
    );
  };
  return { move, moveBy, remove, type, name, changeGain };
}

export type TrackActions = ReturnType<typeof useTrackActions>;
