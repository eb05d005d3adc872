import { Magnet } from 'lucide-react';
import { Dropdown, Form } from 'react-bootstrap';
import type { SnapChoice } from './bench-snap.js';

const NAMES: Record<keyof SnapChoice, string> = {
  beats: 'beats of the song before',
  edges: 'where sound begins and ends',
  zeros: 'zero crossings, when close',
  frames: 'frames of the disc',
};

/** What catches a drag on the Bench. */
export function SnapMenu({
  choice,
  onChange,
}: {
  choice: SnapChoice;
  onChange: (choice: SnapChoice) => void;
}) {
  return (
    <Dropdown align="end" autoClose="outside">
      <Dropdown.Toggle
        variant="link"
        className="icon-button"
        aria-label="What catches a drag"
        title="What catches a drag; with Shift held nothing does"
      >
        <Magnet size={18} aria-hidden />
      </Dropdown.Toggle>
      <Dropdown.Menu className="snap-menu">
        <Dropdown.Header>A drag is caught by</Dropdown.Header>
        {(Object.keys(NAMES) as (keyof SnapChoice)[]).map((key) => (
          <Form.Check
            key={key}
            id={`snap-${key}`}
            label={NAMES[key]}
            checked={choice[key]}
            onChange={({ target }) => onChange({ ...choice, [key]: target.checked })}
          />
        ))}
      </Dropdown.Menu>
    </Dropdown>
  );
}
