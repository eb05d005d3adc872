import { addIndex, setPause, setStartMark, editMarks, hideFirstTrack, showHidden } from '@oiseau/album/edits';
import { floorToFrame, formatMsf, ticks, type Ticks } from '@oiseau/audio/time';
import { hiddenSong, tracksOf, type Album, type SongMarks } from '@oiseau/album/model';
import type { Part } from '@oiseau/album/layout';
import { Eye, EyeOff, Plus, RotateCcw, X } from 'lucide-react';
import { Button } from 'react-bootstrap';
import { IconButton } from '../../ui/IconButton.js';
import { secondsText } from '../change-words.js';
import type { BenchScene } from './bench-scene.js';
import { TimeField } from './TimeField.js';
import type { CommitEdit } from './useBenchActions.js';
import { t } from '../../ui/messages.js';

interface BenchMarksProps {
  readonly scene: BenchScene;
  readonly album: Album;
  readonly part: Part;
  readonly onCommit: CommitEdit;
  /** Sets an index point at the place that is heard. */
  readonly onIndexHere: () => void;
}

const msf = (time: Ticks): string => formatMsf(floorToFrame(time));

/** The marks of the song that begins: start mark, pause and index points, to be typed. */
export function BenchMarks({ scene, album, part, onCommit, onIndexHere }: BenchMarksProps) {
  const { after, startMark, pause } = scene;
  const { id, marks } = after.song;
  const own = (change: Partial<SongMarks>): void => onCommit((before) => editMarks(before, id, change));
  return (
    <div className="bench-numbers">
      <div className="bench-row">
        <TimeField
          label={t('Start mark')}
          value={msf(startMark)}
          time={startMark}
          onCommit={(time, key) => onCommit((before, now) => setStartMark(before, id, time, now.part), key)}
        />
        {marks.markLead !== null && (
          <IconButton
            icon={RotateCcw}
            label={t('Reset the start mark to the default lead')}
            onClick={() => own({ markLead: null })}
          />
        )}
        <TimeField
          label={t('Default lead')}
          value={secondsText(album.markLead)}
          time={album.markLead}
          onCommit={(lead, key) =>
            onCommit((before) => ({ ...before, markLead: ticks(Math.max(0, lead)) }), key)
          }
        />
      </div>
      <div className="bench-row">
        {part.tracks[0]?.id === id ? (
          <HiddenSong album={album} onCommit={onCommit} />
        ) : (
          <>
            <TimeField
              label={t('Pause')}
              value={pause === null ? t('none') : msf(pause)}
              time={pause ?? startMark}
              onCommit={(time, key) => onCommit((before, now) => setPause(before, id, time, now.part), key)}
            />
            {marks.pauseDelay !== null && (
              <IconButton
                icon={RotateCcw}
                label={t('Reset the pause to the end of the previous track')}
                onClick={() => own({ pauseDelay: null })}
              />
            )}
            <span className="text-secondary small">
              {pause === null ? t('No pause before this track.') : t('Players count down during the pause.')}
            </span>
          </>
        )}
      </div>
      <IndexPoints {...{ scene, onCommit, onIndexHere }} />
    </div>
  );
}

/** The index points of the track that begins, from 02 on. */
function IndexPoints({
  scene: { after, startMark },
  onCommit,
  onIndexHere,
}: Pick<BenchMarksProps, 'scene' | 'onCommit' | 'onIndexHere'>) {
  const { id, marks } = after.song;
  return (
    <div className="bench-row index-points">
      <span className="bench-label">{t('Index points')}</span>
      {marks.indexes.map((index, i) => {
        const number = String(i + 2).padStart(2, '0');
        const others = marks.indexes.filter((other) => other !== index);
        return (
          <span key={index} className="index-point">
            <b>{number}</b>
            <TimeField
              label={t('Index {number} after the start mark', { number })}
              plain
              value={msf(index)}
              time={index}
              onCommit={(time, key) =>
                onCommit((before, now) => {
                  const without = editMarks(before, id, { indexes: others });
                  return addIndex(without, id, ticks(startMark + time), now.part);
                }, key)
              }
            />
            <button
              type="button"
              className="row-button"
              aria-label={t('Remove index {number}', { number })}
              onClick={() => onCommit((before) => editMarks(before, id, { indexes: others }))}
            >
              <X size={14} aria-hidden />
            </button>
          </span>
        );
      })}
      <Button
        size="sm"
        variant="outline-primary"
        title={t('Add an index point at the playback position (I)')}
        onClick={onIndexHere}
      >
        <Plus size={14} aria-hidden /> {t('Add here')}
      </Button>
    </div>
  );
}

/** Track 1 may be put into the first pause, where only those find it who go back from the start. */
function HiddenSong({ album, onCommit }: Pick<BenchMarksProps, 'album' | 'onCommit'>) {
  const hidden = hiddenSong(album);
  if (hidden)
    return (
      <>
        <span className="text-secondary small">
          {t('“{title}” is hidden in the first pause.', { title: hidden.title })}
        </span>
        <Button size="sm" variant="outline-primary" onClick={() => onCommit(showHidden)}>
          <Eye size={14} aria-hidden /> {t('Show as track 1')}
        </Button>
      </>
    );
  return (
    <Button
      size="sm"
      variant="outline-primary"
      disabled={tracksOf(album).length < 2}
      title={t(
        'Plays in the first pause, before the start mark of the next track; listeners reach it only by rewinding',
      )}
      onClick={() => onCommit(hideFirstTrack)}
    >
      <EyeOff size={14} aria-hidden /> {t('Hide before track 1 (pregap)')}
    </Button>
  );
}
