import { Magnet } from 'lucide-react';
import { Dropdown, Form } from 'react-bootstrap';
import type { SnapChoice } from './bench-snap.js';
import { IconMenu } from '../../ui/IconMenu.js';

const NAMES: Record<keyof SnapChoice, string> = {
  beats: 'beats of the previous track',
  edges: 'start and end of sound',
  zeros: 'nearby zero crossings',
  frames: 'disc frames',
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
      label="Snap"
      title="Snap targets; hold Shift to drag freely"
      menuClass="snap-menu"
      autoClose="outside"
    >
      <Dropdown.Header>Snap to</Dropdown.Header>
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
