import { Magnet } from 'lucide-react';
import { Dropdown, Form } from 'react-bootstrap';
import type { SnapChoice } from './bench-snap.js';
import { IconMenu } from '../../ui/IconMenu.js';

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
    <IconMenu
      icon={Magnet}
      label="What catches a drag"
      title="What catches a drag; with Shift held nothing does"
      menuClass="snap-menu"
      autoClose="outside"
    >
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
    </IconMenu>
  );
}
