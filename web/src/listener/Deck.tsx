import type { ListeningRow } from '@oiseau/api';
import { formatClock, secondsToTicks } from '@oiseau/audio/time';
import { Play, Square, StickyNote } from 'lucide-react';
import type { ReactNode } from 'react';
import { Button, Form } from 'react-bootstrap';
import { PLAYER_RATE } from '../player/player.js';
import { usePlayer, usePlayerState } from '../album/PlayerContext.js';
import { t } from '../ui/messages.js';

interface DeckProps {
  readonly rows: readonly ListeningRow[];
  readonly row: number;
  /** What is heard is open. */
  readonly ready: boolean;
  readonly failure: string | null;
  readonly onRow: (row: number) => void;
  readonly onNote: () => void;
  /** The silhouette. */
  readonly children: ReactNode;
}

/** Play, where it is, what sounds, and a note at this moment; it stays in sight. */
export function Deck({ rows, row, ready, failure, onRow, onNote, children }: DeckProps) {
  const player = usePlayer();
  const playing = usePlayerState((state) => state.playing);
  const trouble = usePlayerState((state) => state.failure) ?? failure;
  const second = usePlayerState(({ position }) => Math.floor(position / PLAYER_RATE));
  const tracks = rows[row]?.tracks ?? [];
  const sounding = tracks.findLast(({ start }) => start <= second + 0.5) ?? tracks[0];
  const Icon = playing ? Square : Play;
  return (
    <section className="deck" aria-label={t('Player')}>
      <div className="deck-line">
        <Button
          variant={playing ? 'primary' : 'outline-primary'}
          disabled={!ready}
          title={playing ? t('Stop (Space)') : t('Play (Space)')}
          onClick={() => player.toggle()}
        >
          <Icon size={20} aria-hidden /> {playing ? t('Stop') : t('Play')}
        </Button>
        <span className="deck-clock" role="timer" aria-label={t('Position')}>
          {formatClock(secondsToTicks(second))}
        </span>
        <span className="deck-track">
          {ready ? (
            sounding && (
              <>
                <span className="text-secondary">{sounding.number}</span> {sounding.title}
              </>
            )
          ) : (
            <span className="text-secondary">{trouble === null && t('Opening …')}</span>
          )}
        </span>
        <Button variant="outline-primary" disabled={!ready} title={t('Add a note here (M)')} onClick={onNote}>
          <StickyNote size={18} aria-hidden /> {t('Add a note here')}
        </Button>
      </div>
      {rows.length > 1 && (
        <Form.Select
          size="sm"
          aria-label={t('What to play')}
          value={row}
          onChange={({ target }) => onRow(Number(target.value))}
        >
          {rows.map(({ name }, i) => (
            <option key={i} value={i}>
              {name}
            </option>
          ))}
        </Form.Select>
      )}
      {children}
      {trouble !== null && (
        <p role="alert" className="text-danger">
          {trouble}
        </p>
      )}
    </section>
  );
}
