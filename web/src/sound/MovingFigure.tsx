import { constantOf, pointsOf, rangeOf, type MovingDb } from '@oiseau/audio/stages';
import { Button } from 'react-bootstrap';
import { formatDb } from '../ui/format.js';
import { Figure } from './Figure.js';
import { t } from '../ui/messages.js';

/** A value that may move: a figure while it does not, else how far it goes; its points are set on the line across the song. */
export function MovingFigure({
  label,
  value,
  range: [least, most],
  onChange,
  onDrag,
  onDrop,
  onTakeBack,
}: {
  label: string;
  value: MovingDb;
  range: readonly [number, number];
  onChange: (value: MovingDb) => void;
  onDrag: (value: MovingDb) => void;
  onDrop: () => void;
  onTakeBack: () => void;
}) {
  const points = pointsOf(value);
  if (points.length === 0)
    return (
      <Figure
        label={label}
        unit="dB"
        {...{ least, most, onChange, onDrag, onDrop, onTakeBack }}
        step={0.1}
        value={constantOf(value) ?? 0}
      />
    );
  const { least: lowest, most: highest } = rangeOf(value);
  return (
    <div className="figure">
      <span className="figure-name">{label}</span>
      <span className="moving">
        {t('{count, plural, one {one point} other {# points}}, {lowest} to {highest} dB', {
          count: points.length,
          lowest: formatDb(lowest),
          highest: formatDb(highest),
        })}
        <Button size="sm" variant="link" onClick={() => onChange(points[0]?.db ?? 0)}>
          {t('Use one value')}
        </Button>
      </span>
    </div>
  );
}
