import { formatClock, samples, samplesToTicks, ticks, trackAtIndex } from '@oiseau/core';
import { Play, Square } from 'lucide-react';
import { Button } from 'react-bootstrap';
import { useAlbum } from '../album/AlbumContext.js';
import { Meters } from './Meters.js';
import { useGuestOnPlayer, usePlayer, usePlayerState } from './PlayerContext.js';
import { PLAYER_RATE } from './player.js';
import { trackAt } from './track-at.js';

/** Play, where it is, what is left, how loud: at the bottom of every view of an album. */
export function Transport() {
  const { album, layout } = useAlbum();
  const player = usePlayer();
  const playing = usePlayerState(({ playing: on }) => on);
  const failure = usePlayerState(({ failure: why }) => why);
  const gaps = usePlayerState(({ gaps: times }) => times);
  // A tenth of a second is as fine as anyone reads a running clock.
  const tenth = usePlayerState(({ position }) => Math.floor((position * 10) / PLAYER_RATE));
  const now = samplesToTicks(samples(Math.round((tenth * PLAYER_RATE) / 10)), PLAYER_RATE);
  const index = trackAt(layout, now);
  const placed = index === null ? undefined : index < 0 ? layout.hidden : layout.tracks[index];
  const track = index === null ? undefined : trackAtIndex(album, index);
  const guest = useGuestOnPlayer();
  const empty = !guest && album.tracks.length === 0;
  const end = guest ? guest.length : layout.end;
  return (
    <footer className="transport" aria-label="Transport">
      <Button
        className="play-button"
        variant={playing ? 'primary' : 'outline-primary'}
        disabled={empty}
        onClick={() => player.toggle()}
        aria-label={playing ? 'Stop' : 'Play'}
        title={playing ? 'Stop (Space)' : 'Play (Space)'}
      >
        {playing ? <Square size={18} aria-hidden /> : <Play size={18} aria-hidden />}
      </Button>
      <div className="transport-clock" aria-label="Position on the disc">
        {formatClock(now, 1)}
      </div>
      <div className="transport-track">
        {failure ? (
          <span role="alert" className="text-danger">
            {failure}
          </span>
        ) : guest ? (
          <span className="name">{guest.name}</span>
        ) : track && placed && index !== null ? (
          <>
            <span className="number">{index < 0 ? 'hidden' : index + 1}</span>{' '}
            <span className="name">{track.title || 'Untitled'}</span>
          </>
        ) : (
          <span className="text-secondary">{empty ? 'Nothing to play yet' : 'Pause'}</span>
        )}
      </div>
      {gaps > 0 && (
        <span className="text-danger" role="status">
          The sound broke off: this machine could not keep up.
        </span>
      )}
      <dl className="transport-times">
        {!guest && (
          <div>
            <dt>track</dt>
            <dd>
              {placed
                ? `${formatClock(ticks(now - placed.audioStart))} · −${formatClock(ticks(Math.max(0, placed.audioEnd - now)))}`
                : '–'}
            </dd>
          </div>
        )}
        <div>
          <dt>{guest ? 'master' : 'disc'}</dt>
          <dd>{empty ? '–' : `−${formatClock(ticks(Math.max(0, end - now)))}`}</dd>
        </div>
      </dl>
      <Meters />
    </footer>
  );
}
