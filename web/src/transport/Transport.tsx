import { samples, samplesToTicks, ticks, ticksToSamples, type Ticks } from '@oiseau/audio/time';
import { partName, songOf, trackNumber, type Song } from '@oiseau/album/model';
import { songAt } from '@oiseau/album/layout';
import { trackMarks } from '@oiseau/formats/disc';
import { Play, SkipBack, SkipForward, Square } from 'lucide-react';
import { Button } from 'react-bootstrap';
import { IconButton } from '../ui/IconButton.js';
import { Meters } from './Meters.js';
import { RecordingChooser } from './RecordingChooser.js';
import {
  useFollowing,
  useGuestOnPlayer,
  useHeardPart,
  usePlayer,
  usePlayerState,
} from '../album/PlayerContext.js';
import { OutputChoice } from './OutputChoice.js';
import { PLAYER_RATE } from '../player/player.js';
import { Volume } from './Volume.js';
import { say, t } from '../ui/messages.js';
import { clockText } from '../ui/format.js';

/** Going back this soon after a track's start means the previous track, seconds. */
const BACK_SECONDS = 2;

/** Time that remains, as a count down. */
const left = (time: Ticks): string => `−${clockText(ticks(Math.max(0, time)))}`;

/** Play, where it is, what is left, how loud: at the bottom of every view of an album. */
export function Transport() {
  const part = useHeardPart();
  const player = usePlayer();
  const playing = usePlayerState(({ playing: on }) => on);
  const gaps = usePlayerState(({ gaps: times }) => times);
  // A tenth of a second is as fine as anyone reads a running clock.
  const tenth = usePlayerState(({ position }) => Math.floor((position * 10) / PLAYER_RATE));
  const now = samplesToTicks(samples(Math.round((tenth * PLAYER_RATE) / 10)), PLAYER_RATE);
  const sounding = songAt(part.placement, now) ?? '';
  const placed = part.placement.songs.get(sounding);
  const song = songOf(part, sounding);
  const guest = useGuestOnPlayer();
  const empty = !guest && part.songs.length === 0;
  const end = guest ? guest.length : part.placement.end;
  /** To the track before or after; back first to the beginning of the one that sounds. */
  const step = (by: 1 | -1): void => {
    const starts = trackMarks(part).map(({ start }) => ticksToSamples(start, PLAYER_RATE));
    const at = player.state.position;
    const to =
      by > 0
        ? starts.find((start) => start > at + 1)
        : (starts.findLast((start) => start < at - BACK_SECONDS * PLAYER_RATE) ?? starts[0]);
    if (to !== undefined) player.seek(to);
  };
  return (
    <footer className="transport" aria-label={t('Transport')}>
      <Button
        className="play-button"
        variant={playing ? 'primary' : 'outline-primary'}
        disabled={empty}
        onClick={() => player.toggle()}
        aria-label={playing ? t('Stop') : t('Play')}
        title={playing ? t('Stop (Space)') : t('Play (Space)')}
      >
        {playing ? <Square size={18} aria-hidden /> : <Play size={18} aria-hidden />}
      </Button>
      {!guest && (
        <span className="transport-steps">
          <IconButton icon={SkipBack} label={t('Previous track')} disabled={empty} onClick={() => step(-1)} />
          <IconButton icon={SkipForward} label={t('Next track')} disabled={empty} onClick={() => step(1)} />
        </span>
      )}
      <div className="transport-clock" role="timer" aria-label={t('Position on the disc')}>
        {clockText(now, 1)}
      </div>
      <div className="transport-track">
        <NowPlaying song={song && placed ? song : undefined} empty={empty} />
      </div>
      <RecordingChooser />
      {gaps > 0 && (
        <span className="text-danger" role="status">
          {t('Playback dropped out: this machine couldn’t keep up.')}
        </span>
      )}
      <dl className="transport-times">
        {!guest && (
          <div>
            <dt>{t('track')}</dt>
            <dd>
              {placed ? `${clockText(ticks(now - placed.start))} · ${left(ticks(placed.end - now))}` : '–'}
            </dd>
          </div>
        )}
        <div>
          <dt>
            {guest
              ? guest.what
              : part.of > 1
                ? say(partName(part))
                : part.kind === 'disc'
                  ? t('disc')
                  : t('side')}
          </dt>
          <dd>{empty ? '–' : left(ticks(end - now))}</dd>
        </div>
      </dl>
      <Volume />
      <OutputChoice />
      <Meters />
    </footer>
  );
}

/** What is playing, or why nothing is. */
function NowPlaying({ song, empty }: { readonly song: Song | undefined; readonly empty: boolean }) {
  const part = useHeardPart();
  const failure = usePlayerState(({ failure: why }) => why);
  const guest = useGuestOnPlayer();
  const following = useFollowing();
  if (failure)
    return (
      <span role="alert" className="text-danger">
        {failure}
      </span>
    );
  if (following) return <span role="status">{t('{part} is next …', { part: partName(following) })}</span>;
  if (guest) return <span className="name">{guest.name}</span>;
  if (!song)
    return <span className="text-secondary">{empty ? t('Nothing to play yet') : t('In a pause')}</span>;
  return (
    <>
      <span className="number">{trackNumber(part, song.id) ?? t('hidden')}</span>{' '}
      <span className="name">{song.title || t('Untitled')}</span>
    </>
  );
}
