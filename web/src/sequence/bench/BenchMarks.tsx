import {
  addIndex,
  editTrack,
  floorToFrame,
  formatMsf,
  hideFirstTrack,
  setPause,
  setStartMark,
  showHidden,
  ticks,
  type Album,
  type Layout,
  type Ticks,
} from '@oiseau/core';
import { Eye, EyeOff, Plus, RotateCcw, X } from 'lucide-react';
import { Button } from 'react-bootstrap';
import { IconButton } from '../../ui/IconButton.js';
import { secondsText } from '../change-words.js';
import type { CommitEdit } from './BenchNumbers.js';
import type { BenchScene } from './bench-scene.js';
import { TimeField } from './TimeField.js';

interface BenchMarksProps {
  readonly scene: BenchScene;
  readonly index: number;
  readonly album: Album;
  readonly layout: Layout;
  readonly onCommit: CommitEdit;
  /** Sets an index point at the place that is heard. */
  readonly onIndexHere: () => void;
}

const msf = (time: Ticks): string => formatMsf(floorToFrame(time));

/** The marks of the song that begins: start mark, pause and index points, to be typed. */
export function BenchMarks({ scene, index, album, layout, onCommit, onIndexHere }: BenchMarksProps) {
  const { after, startMark, pause } = scene;
  const { track } = after;
  const own = (change: Partial<typeof track>): void => onCommit(editTrack(album, track.id, change));
  return (
    <div className="bench-numbers">
      <div className="bench-row">
        <TimeField
          label="Start mark"
          value={msf(startMark)}
          time={startMark}
          onCommit={(time, key) => onCommit(setStartMark(album, index, time, layout), key)}
        />
        {track.markLead !== null && (
          <IconButton
            icon={RotateCcw}
            label="Start mark as the album has it"
            onClick={() => own({ markLead: null })}
          />
        )}
        <TimeField
          label="All lead by"
          value={secondsText(album.markLead)}
          time={album.markLead}
          onCommit={(lead, key) => onCommit({ ...album, markLead: ticks(Math.max(0, lead)) }, key)}
        />
      </div>
      <div className="bench-row">
        {index === 0 ? (
          <HiddenSong album={album} onCommit={onCommit} />
        ) : (
          <>
            <TimeField
              label="Pause"
              value={pause === null ? 'none' : msf(pause)}
              time={pause ?? startMark}
              onCommit={(time, key) => onCommit(setPause(album, index, time, layout), key)}
            />
            {track.pauseDelay !== null && (
              <IconButton
                icon={RotateCcw}
                label="Pause right after the song before"
                onClick={() => own({ pauseDelay: null })}
              />
            )}
            <span className="text-secondary small">
              {pause === null ? 'The disc counts no pause before it.' : 'While it lasts, players count down.'}
            </span>
          </>
        )}
      </div>
      <div className="bench-row index-points">
        <span className="bench-label">Index points</span>
        {track.indexes.map((after, i) => (
          <span key={after} className="index-point">
            <b>{String(i + 2).padStart(2, '0')}</b>
            <TimeField
              label={`Index ${String(i + 2).padStart(2, '0')} after the start mark`}
              plain
              value={msf(after)}
              time={after}
              onCommit={(time, key) => {
                const others = { ...track, indexes: track.indexes.filter((other) => other !== after) };
                const without = editTrack(album, track.id, { indexes: others.indexes });
                onCommit(addIndex(without, index, ticks(startMark + time), layout), key);
              }}
            />
            <button
              type="button"
              className="row-button"
              aria-label={`Take index ${String(i + 2).padStart(2, '0')} out`}
              onClick={() => own({ indexes: track.indexes.filter((other) => other !== after) })}
            >
              <X size={14} aria-hidden />
            </button>
          </span>
        ))}
        <Button
          size="sm"
          variant="outline-primary"
          title="An index point where the song is heard (I)"
          onClick={onIndexHere}
        >
          <Plus size={14} aria-hidden /> where it is heard
        </Button>
      </div>
    </div>
  );
}

/** Track 1 may be put into the first pause, where only those find it who go back from the start. */
function HiddenSong({ album, onCommit }: Pick<BenchMarksProps, 'album' | 'onCommit'>) {
  if (album.hidden)
    return (
      <>
        <span className="text-secondary small">“{album.hidden.title}” is hidden in the first pause.</span>
        <Button size="sm" variant="outline-primary" onClick={() => onCommit(showHidden(album))}>
          <Eye size={14} aria-hidden /> Show it as track 1
        </Button>
      </>
    );
  return (
    <Button
      size="sm"
      variant="outline-primary"
      disabled={album.tracks.length < 2}
      title="It sounds in the first pause, before the start mark of the next song; players find it only by going back"
      onClick={() => onCommit(hideFirstTrack(album))}
    >
      <EyeOff size={14} aria-hidden /> Hide this song before track 1
    </Button>
  );
}
