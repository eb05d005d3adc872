import type { ListeningTrack } from '@oiseau/api';
import { formatClock, secondsToTicks } from '@oiseau/audio/time';
import { PLAYER_RATE } from '../player/player.js';
import { usePlayerState } from '../album/PlayerContext.js';
import { t } from '../ui/messages.js';
import { formatNumber } from '../ui/format.js';

/** A shorter gap is none to the ear. */
const NO_GAP_SECONDS = 0.05;

const gapWords = (gap: number): string =>
  gap < -NO_GAP_SECONDS
    ? t('overlaps the next track')
    : gap <= NO_GAP_SECONDS
      ? t('runs into the next track')
      : t('{seconds} s of silence', { seconds: formatNumber(gap, 1) });

/** The tracks of a part with their lengths and what lies between them; a press plays one from its start. */
export function TrackList({
  name,
  tracks,
  sounding,
  onHear,
}: {
  readonly name: string;
  readonly tracks: readonly ListeningTrack[];
  /** This part is the one on the player. */
  readonly sounding: boolean;
  readonly onHear: (seconds: number) => void;
}) {
  const now = usePlayerState(({ position }) =>
    sounding ? tracks.findLastIndex(({ start }) => start <= position / PLAYER_RATE + 0.01) : -1,
  );
  return (
    <section aria-label={name}>
      <h2>{name}</h2>
      <ol className="listener-tracks">
        {tracks.map(({ number, title, performer, start, seconds, gap }, i) => (
          <li key={number} className={i === now ? 'now' : ''} aria-current={i === now || undefined}>
            <button
              type="button"
              title={t('Play from track {number}', { number })}
              onClick={() => onHear(start)}
            >
              <span className="num">{number}</span>
              <span>
                {title}
                {performer !== '' && <span className="text-secondary"> {performer}</span>}
              </span>
              <span className="num">{formatClock(secondsToTicks(seconds))}</span>
            </button>
            {gap !== null && <span className="listener-gap">{gapWords(gap)}</span>}
          </li>
        ))}
      </ol>
    </section>
  );
}
