import { ticksToSamples } from '@oiseau/core';
import { useState } from 'react';
import { Link } from 'react-router';
import { useAlbum } from '../album/AlbumContext.js';
import { PLAYER_RATE } from '../player/player.js';
import { usePlayer } from '../player/PlayerContext.js';
import { Ledger } from './Ledger.js';
import { Skyline } from './Skyline.js';

/** Order and spacing: the Skyline on top, the ledger under it. */
export function SequenceView() {
  const { id, album, layout } = useAlbum();
  const player = usePlayer();
  const [chosen, setChosen] = useState<number | null>(null);
  if (album.tracks.length === 0) {
    return (
      <div className="empty">
        <p className="empty-lead">Nothing to put in order yet.</p>
        <p>
          Bring the finished masters in under <Link to={`/albums/${id}/masters`}>Masters</Link>; each becomes
          a track here.
        </p>
      </div>
    );
  }
  const play = (index: number): void => {
    const placed = layout.tracks[index];
    setChosen(index);
    if (placed) void player.play(ticksToSamples(placed.audioStart, PLAYER_RATE));
  };
  return (
    <div className="sequence">
      <Skyline chosen={chosen} onChoose={setChosen} />
      <Ledger chosen={chosen} onChoose={setChosen} onPlay={play} />
    </div>
  );
}
