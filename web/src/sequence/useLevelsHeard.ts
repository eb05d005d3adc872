import { editRegion, placedMoment } from '@oiseau/album/edits';
import type { Album } from '@oiseau/album/model';
import { ticksToSamples } from '@oiseau/audio/time';
import { useEffect, useState } from 'react';
import { useAlbum } from '../album/AlbumContext.js';
import { usePowers } from '../api/queries.js';
import { PLAYER_RATE } from '../player/player.js';
import { usePlayer, usePlayerState } from '../album/PlayerContext.js';
import { useStable } from '../ui/useStable.js';

/** The loudest moments of all songs in turn, as they are or with the gains that are proposed. */
export function useLevelsHeard(gains: readonly number[]) {
  const { part, masters, preview } = useAlbum('part', 'masters', 'preview');
  const player = usePlayer();
  const powers = usePowers(masters);
  const sounds = usePlayerState((state) => state.playing);
  const playing = usePlayerState((state) => state.playing && state.hearing);
  const [matched, setMatched] = useState(false);
  const name = JSON.stringify(gains);
  const proposed = (album: Album): Album =>
    part.tracks.reduce((changed, { id }, i) => editRegion(changed, id, { gainDb: gains[i] ?? 0 }), album);
  const { show } = useStable({ show: (wanted: boolean) => void preview(wanted ? proposed : null) });
  // The album that is proposed is told by its gains.
  useEffect(() => show(sounds && matched), [sounds, matched, name, show]);
  // What was heard for trial is not left on the player.
  useEffect(() => () => show(false), [show]);
  const toggle = (): void => {
    if (playing) return player.stop();
    const { placement, sequence } = part;
    const stretches = sequence.songs.flatMap((song) => {
      const found = placedMoment(song, placement, powers.get(song.region.master));
      const at = (time: typeof placement.end) => ticksToSamples(time, PLAYER_RATE);
      return found ? [{ start: at(found.start), end: at(found.end) }] : [];
    });
    void player.hear({ stretches, loop: false });
  };
  return {
    playing,
    matched,
    setMatched,
    toggle,
  };
}
