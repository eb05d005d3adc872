import { Button } from 'react-bootstrap';
import { rich, t } from '../ui/messages.js';

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
        {rich(
          '<b>{size, plural, one {# track} other {# tracks}}</b> selected: typing in one row changes all.',
          { b: <b /> },
          { size },
        )}
      </span>
      <Button
        size="sm"
        variant="outline-primary"
        aria-label={t('All quieter by 0.5 dB')}
        onClick={() => onGain(-STEP_DB)}
      >
        −{STEP_DB} dB
      </Button>
      <Button
        size="sm"
        variant="outline-primary"
        aria-label={t('All louder by 0.5 dB')}
        onClick={() => onGain(STEP_DB)}
      >
        +{STEP_DB} dB
      </Button>
      <Button size="sm" variant="outline-primary" title={t('Delete')} onClick={onRemove}>
        {t('Remove')}
      </Button>
      <Button size="sm" variant="link" title={t('Escape')} onClick={onLetGo}>
        {t('Select one row')}
      </Button>
    </div>
  );
}
