import { crossfade, setFade, setGap, setOut, trimIn } from '@oiseau/album/edits';
import { FADE_SHAPES, type FadeShape } from '@oiseau/audio/dsp';
import { beatLength, type MasterFactsByKey } from '@oiseau/album/model';
import { secondsToTicks, ticksToSeconds } from '@oiseau/audio/time';
import { Button, Form } from 'react-bootstrap';
import { useAlbum } from '../../album/AlbumContext.js';
import { useStored } from '../../ui/useStored.js';
import type { BenchScene } from './bench-scene.js';
import { secondsText } from '../change-words.js';
import { shapeWords } from '../fade-words.js';
import { TimeField } from './TimeField.js';
import type { CommitEdit } from './useBenchActions.js';
import { t } from '../../ui/messages.js';
import { clockText } from '../../ui/format.js';

interface BenchNumbersProps {
  readonly scene: BenchScene;
  readonly masters: MasterFactsByKey;
  readonly hold: boolean;
  readonly onHold: (hold: boolean) => void;
  readonly onCommit: CommitEdit;
}

/** Everything on the Bench that can be dragged, to be typed. */
export function BenchNumbers({ scene, masters, hold, onHold, onCommit }: BenchNumbersProps) {
  const { before, after } = scene;
  const tempo = before?.song.marks.tempo;
  const beat = tempo ? beatLength(tempo) : null;
  return (
    <div className="bench-numbers">
      {before && <EndingRow {...{ before, beat, masters, onCommit }} />}
      <div className="bench-row">
        <GapFields {...{ before, after, beat, masters, onCommit }} />
        <Form.Check
          type="switch"
          id="bench-hold"
          className="bench-hold"
          title={t('Later tracks keep their start times on the disc')}
          label={t('Keep later tracks in place')}
          checked={hold}
          onChange={({ target }) => onHold(target.checked)}
        />
      </div>
      <BeginningRow {...{ after, masters, onCommit }} />
    </div>
  );
}

type FieldsProps = Pick<BenchNumbersProps, 'masters' | 'onCommit'>;
type Before = NonNullable<BenchScene['before']>;

/** Out point and fade-out of the track that ends. */
function EndingRow({
  before: { song, out },
  beat,
  masters,
  onCommit,
}: FieldsProps & { readonly before: Before; readonly beat: number | null }) {
  const { id, region } = song;
  return (
    <div className="bench-row">
      <TimeField
        label={t('Out point')}
        value={clockText(out, 3)}
        time={out}
        onCommit={(time, key) => onCommit((album) => setOut(album, id, time, masters), key)}
      />
      <TimeField
        label={t('Fade-out')}
        value={secondsText(region.fadeOut.length)}
        time={region.fadeOut.length}
        beat={beat}
        onCommit={(length, key) =>
          onCommit((album) => setFade(album, id, 'fadeOut', { length }, masters), key)
        }
      />
      <ShapeChoice
        label={t('Shape of the fade-out')}
        value={region.fadeOut.shape}
        onChange={(shape) => onCommit((album) => setFade(album, id, 'fadeOut', { shape }, masters))}
      />
    </div>
  );
}

/** The gap, and a crossfade in its place. */
function GapFields({
  before,
  after: { song },
  beat,
  masters,
  onCommit,
}: FieldsProps & Pick<BenchScene, 'before' | 'after'> & { readonly beat: number | null }) {
  const { id, region } = song;
  // A side begins with its audio: nothing stands before it.
  const { kind } = useAlbum('part').part;
  const [cross, setCross] = useStored('oiseau-crossfade', 4);
  return (
    <>
      {(before ?? kind === 'disc') && (
        <TimeField
          label={before ? t('Gap') : t('First pause')}
          value={secondsText(region.gapBefore)}
          time={region.gapBefore}
          beat={beat}
          onCommit={(gap, key) => onCommit((album) => setGap(album, id, gap), key)}
        />
      )}
      {before && (
        <span className="bench-cross">
          <Button
            size="sm"
            variant="outline-primary"
            onClick={() => onCommit((album) => crossfade(album, id, secondsToTicks(cross), masters))}
          >
            {t('Crossfade')}
          </Button>
          <TimeField
            label={t('Length of the crossfade')}
            plain
            value={secondsText(secondsToTicks(cross))}
            beat={beat}
            onCommit={(length) => setCross(Math.max(0, ticksToSeconds(length)))}
          />
        </span>
      )}
    </>
  );
}

/** In point and fade-in of the track that begins. */
function BeginningRow({ after: { song }, masters, onCommit }: FieldsProps & Pick<BenchScene, 'after'>) {
  const { id, region } = song;
  return (
    <div className="bench-row">
      <TimeField
        label={t('In point')}
        value={clockText(region.in, 3)}
        time={region.in}
        onCommit={(time, key) => onCommit((album) => trimIn(album, id, time, masters), key)}
      />
      <TimeField
        label={t('Fade-in')}
        value={secondsText(region.fadeIn.length)}
        time={region.fadeIn.length}
        onCommit={(length, key) =>
          onCommit((album) => setFade(album, id, 'fadeIn', { length }, masters), key)
        }
      />
      <ShapeChoice
        label={t('Shape of the fade-in')}
        value={region.fadeIn.shape}
        onChange={(shape) => onCommit((album) => setFade(album, id, 'fadeIn', { shape }, masters))}
      />
    </div>
  );
}

function ShapeChoice({
  label,
  value,
  onChange,
}: {
  label: string;
  value: FadeShape;
  onChange: (shape: FadeShape) => void;
}) {
  return (
    <Form.Select
      size="sm"
      aria-label={label}
      value={value}
      onChange={({ target }) => {
        const shape = FADE_SHAPES.find((each) => each === target.value);
        if (shape) onChange(shape);
      }}
    >
      {FADE_SHAPES.map((shape) => (
        <option key={shape} value={shape}>
          {shapeWords(shape)}
        </option>
      ))}
    </Form.Select>
  );
}
