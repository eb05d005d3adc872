import { Button } from 'react-bootstrap';
import { count } from '../ui/format.js';

/** What a press changes the gain by, dB. */
const STEP_DB = 0.5;

/** What can be done to several chosen tracks at once. */
export function ChosenStrip({
  size,
  onGain,
  onRemove,
  onLetGo,
}: {
  size: number;
  onGain: (by: number) => void;
  onRemove: () => void;
  onLetGo: () => void;
}) {
  return (
    <div className="chosen-strip" role="status">
      <span>
        <b>{count(size, 'track')}</b> selected: typing in one row changes all.
      </span>
      <Button
        size="sm"
        variant="outline-primary"
        aria-label="All quieter by 0.5 dB"
        onClick={() => onGain(-STEP_DB)}
      >
        −{STEP_DB} dB
      </Button>
      <Button
        size="sm"
        variant="outline-primary"
        aria-label="All louder by 0.5 dB"
        onClick={() => onGain(STEP_DB)}
      >
        +{STEP_DB} dB
      </Button>
      <Button size="sm" variant="outline-primary" title="Delete" onClick={onRemove}>
        Remove
      </Button>
      <Button size="sm" variant="link" title="Escape" onClick={onLetGo}>
        Select one row
      </Button>
    </div>
  );
}
