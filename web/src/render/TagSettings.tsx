import { codingOf, type SoundDeliverable } from '@oiseau/album/model';
import { Form } from 'react-bootstrap';
import { Choice } from './Choice.js';

interface TagSettingsProps {
  readonly deliverable: SoundDeliverable;
  readonly onChange: (deliverable: SoundDeliverable) => void;
}

const HAS_ID3: readonly string[] = ['mp3', 'aiff', 'wav'];

/** What the tags of files tell beside the words, and a playlist beside the files of tracks. */
export function TagSettings({ deliverable, onChange }: TagSettingsProps) {
  const { format, id3, loudnessTags, tempoTags } = deliverable;
  const loudness =
    codingOf(deliverable) === 'opus'
      ? 'Loudness in the tags (R 128 gains)'
      : 'Loudness in the tags (ReplayGain)';
  return (
    <>
      {HAS_ID3.includes(format) && (
        <Choice
          label="ID3"
          value={id3 === 2.4 ? '2.4' : '2.3'}
          options={[
            ['2.3', 'version 2.3'],
            ['2.4', 'version 2.4'],
          ]}
          onChange={(text) => onChange({ ...deliverable, id3: text === '2.4' ? 2.4 : 2.3 })}
        />
      )}
      <Check
        label={loudness}
        on={loudnessTags}
        onChange={(on) => onChange({ ...deliverable, loudnessTags: on })}
      />
      {deliverable.kind === 'tracks' && (
        <>
          <Check
            label="Tempo in the tags, where it is known"
            on={tempoTags}
            onChange={(on) => onChange({ ...deliverable, tempoTags: on })}
          />
          <Check
            label="A playlist (M3U8) beside the files"
            on={deliverable.playlist}
            onChange={(playlist) => onChange({ ...deliverable, playlist })}
          />
        </>
      )}
    </>
  );
}

function Check({
  label,
  on,
  onChange,
}: {
  readonly label: string;
  readonly on: boolean;
  readonly onChange: (on: boolean) => void;
}) {
  return (
    <Form.Check
      id={`setting-${label}`}
      className="setting-check"
      label={label}
      checked={on}
      onChange={({ target }) => onChange(target.checked)}
    />
  );
}
