import { Magnet } from 'lucide-react';
import { Dropdown, Form } from 'react-bootstrap';
import type { SnapChoice } from './bench-snap.js';
import { IconMenu } from '../../ui/IconMenu.js';
import { t } from '../../ui/messages.js';

const NAMES: Record<keyof SnapChoice, string> = {
  beats: t('beats of the previous track'),
  edges: t('start and end of sound'),
  zeros: t('nearby zero crossings'),
  frames: t('disc frames'),
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
      label={t('Snap')}
      title={t('Snap targets; hold Shift to drag freely')}
      menuClass="snap-menu"
      autoClose="outside"
    >
      <Dropdown.Header>{t('Snap to')}</Dropdown.Header>
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
