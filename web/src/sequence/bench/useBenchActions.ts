import { addIndex, setGap, startOnLastBeat, waitBars } from '@oiseau/album/edits';
import { songAt } from '@oiseau/album/layout';
import { samples, samplesToTicks, ticks, TICKS_PER_FRAME } from '@oiseau/audio/time';
import { songOf, type Song } from '@oiseau/album/model';
import { useAlbum } from '../../album/AlbumContext.js';
import type { AlbumChange } from '../../workspace/album-state.js';
import { PLAYER_RATE } from '../../player/player.js';
import { useHeardPart, usePlayer } from '../../album/PlayerContext.js';
import { useNotices } from '../../ui/Notices.js';
import { changeWords } from '../change-words.js';
import type { KeepAfter } from '../useTrackActions.js';
import { t } from '../../ui/messages.js';

const NO_BEAT = t('No beat yet. Tap it (B) while the previous track plays, or find it (F).');

/** An edit of the transition; those with one key that follow each other are undone together. */
export type CommitEdit = (change: AlbumChange, mergeKey?: string) => void;

/**
 * What the Bench does to the album.
 * @param id the song that begins, `before` the one that ends
 * @param kept what follows moves along, or stays where it is
 */
export function useBenchActions(id: string, before: Song | undefined, kept: KeepAfter) {
  const { edit } = useAlbum('edit');
  const part = useHeardPart();
  const { tell } = useNotices();
  const player = usePlayer();

  const commit: CommitEdit = (change, mergeKey) => {
    edit(changeWords, (album, now) => kept(change(album, now), id, now), mergeKey && `${mergeKey} ${id}`);
  };
  const wait = (bars: number): void => {
    if (before?.marks.tempo) commit((album) => waitBars(album, id, bars), 'wait');
    else tell(NO_BEAT);
  };
  /** The song that begins starts on the last beat before the end of the other. */
  const lastBeat = (): void => {
    if (before?.marks.tempo) commit((album, { part: now }) => startOnLastBeat(album, id, now), 'wait');
    else tell(NO_BEAT);
  };
  /** The song that begins, so many CD frames later or earlier. */
  const nudge = (frames: number): void =>
    commit((album) => {
      const song = songOf(album, id);
      return song ? setGap(album, id, ticks(song.region.gapBefore + frames * TICKS_PER_FRAME)) : album;
    }, 'nudge');
  const indexHere = (): void => {
    const time = samplesToTicks(samples(Math.round(player.heardNow())), PLAYER_RATE);
    const step = edit(changeWords, (album) => {
      const heard = songAt(part.placement, time);
      return heard === null ? album : addIndex(album, heard, time, part);
    });
    if (step === null) tell(t('An index point must lie inside a track, after its start mark.'));
  };
  return { commit, wait, lastBeat, nudge, indexHere };
}
