import {
  crossfade,
  FADE_SHAPES,
  formatClock,
  parseTime,
  secondsToTicks,
  setFade,
  setGap,
  setOut,
  ticksToSeconds,
  trimIn,
  type Album,
  type FadeShape,
  type MasterFacts,
  type Ticks,
} from '@oiseau/core';
import { Button, Form } from 'react-bootstrap';
import { DraftField } from '../../ui/DraftField.js';
import { useStored } from '../../ui/useStored.js';
import type { BenchScene } from './bench-scene.js';
import { secondsText } from './bench-words.js';

const SHAPES: Record<FadeShape, string> = {
  linear: 'linear',
  'equal-power': 'equal power',
  cosine: 'cosine',
  slow: 'slow start',
  fast: 'fast start',
};

interface BenchNumbersProps {
  readonly scene: BenchScene;
  readonly index: number;
  readonly album: Album;
  readonly masters: ReadonlyMap<string, MasterFacts>;
  readonly hold: boolean;
  readonly onHold: (hold: boolean) => void;
  readonly onCommit: (album: Album) => void;
}

/** Everything on the Bench that can be dragged, to be typed. */
export function BenchNumbers({ scene, index, album, masters, hold, onHold, onCommit }: BenchNumbersProps) {
  const { before, after } = scene;
  const [cross, setCross] = useStored('oiseau-crossfade', 4);
  return (
    <div className="bench-numbers">
      {before && (
        <div className="bench-row">
          <TimeField
            label="Out point"
            value={formatClock(before.out, 3)}
            onCommit={(time) => onCommit(setOut(album, index - 1, time, masters))}
          />
          <TimeField
            label="Fade-out"
            value={secondsText(before.track.fadeOut.length)}
            onCommit={(length) => onCommit(setFade(album, index - 1, 'fadeOut', { length }, masters))}
          />
          <ShapeChoice
            label="Shape of the fade-out"
            value={before.track.fadeOut.shape}
            onChange={(shape) => onCommit(setFade(album, index - 1, 'fadeOut', { shape }, masters))}
          />
        </div>
      )}
      <div className="bench-row">
        <TimeField
          label={index === 0 ? 'First pause' : 'Gap'}
          value={secondsText(after.track.gapBefore)}
          onCommit={(gap) => onCommit(setGap(album, index, gap))}
        />
        {before && (
          <span className="bench-cross">
            <Button
              size="sm"
              variant="outline-primary"
              onClick={() => onCommit(crossfade(album, index, secondsToTicks(cross), masters))}
            >
              Crossfade of
            </Button>
            <TimeField
              label="Length of the crossfade"
              plain
              value={secondsText(secondsToTicks(cross))}
              onCommit={(length) => setCross(Math.max(0, ticksToSeconds(length)))}
            />
          </span>
        )}
        <Form.Check
          type="switch"
          id="bench-hold"
          label="hold what follows"
          checked={hold}
          onChange={({ target }) => onHold(target.checked)}
        />
      </div>
      <div className="bench-row">
        <TimeField
          label="In point"
          value={formatClock(after.track.in, 3)}
          onCommit={(time) => onCommit(trimIn(album, index, time, masters))}
        />
        <TimeField
          label="Fade-in"
          value={secondsText(after.track.fadeIn.length)}
          onCommit={(length) => onCommit(setFade(album, index, 'fadeIn', { length }, masters))}
        />
        <ShapeChoice
          label="Shape of the fade-in"
          value={after.track.fadeIn.shape}
          onChange={(shape) => onCommit(setFade(album, index, 'fadeIn', { shape }, masters))}
        />
      </div>
    </div>
  );
}

function TimeField({
  label,
  value,
  plain = false,
  onCommit,
}: {
  label: string;
  value: string;
  /** Without its name beside it. */
  plain?: boolean;
  onCommit: (time: Ticks) => void;
}) {
  const field = (
    <DraftField
      label={label}
      className="form-control-sm num"
      value={value}
      fault={(text) => (parseTime(text) === undefined ? 'Seconds, 250 ms, 1:02.5 or MM:SS:FF.' : undefined)}
      onCommit={(text) => {
        const time = parseTime(text);
        if (time !== undefined) onCommit(time);
      }}
    />
  );
  if (plain) return field;
  return (
    <label className="bench-field">
      <span>{label}</span>
      {field}
    </label>
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
          {SHAPES[shape]}
        </option>
      ))}
    </Form.Select>
  );
}
