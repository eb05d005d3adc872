import { alternateNames, MAIN, recordingsOf, type Deliverable } from '@oiseau/album/model';
import { Form } from 'react-bootstrap';
import { useAlbum } from '../album/AlbumContext.js';
import { recordingWords } from '../transport/RecordingChooser.js';
import { Choice } from './Choice.js';
import { t } from '../ui/messages.js';

/** Which recordings a deliverable is made of; nothing where songs have but their masters. */
export function RecordingChoice({
  deliverable,
  onChange,
}: {
  readonly deliverable: Deliverable;
  readonly onChange: (deliverable: Deliverable) => void;
}) {
  const { album } = useAlbum('album');
  const chosen = recordingsOf(deliverable);
  // What is asked for in vain stays in sight, so that it can be taken back.
  const names = [...new Set([MAIN, ...alternateNames(album), ...chosen])];
  // What a shop sells are the masters.
  if (names.length === 1 || deliverable.kind === 'package') return null;
  if (deliverable.kind !== 'tracks')
    return (
      <Choice
        label={t('Version')}
        value={deliverable.alternate}
        options={names.map((name) => [name, recordingWords(name)])}
        onChange={(alternate) => onChange({ ...deliverable, alternate })}
      />
    );
  return (
    <fieldset className="setting recordings-choice">
      <legend>{t('Versions')}</legend>
      <div>
        {names.map((name) => {
          const isOn = chosen.includes(name);
          return (
            <Form.Check
              key={name}
              id={`recording-${name}`}
              label={recordingWords(name)}
              checked={isOn}
              // The last one stays: a deliverable is made of something.
              disabled={isOn && chosen.length === 1}
              onChange={() =>
                onChange({
                  ...deliverable,
                  alternates: names.filter((each) => (each === name ? !isOn : chosen.includes(each))),
                })
              }
            />
          );
        })}
      </div>
    </fieldset>
  );
}
