import { factsOf } from '@oiseau/codings';
import { codingOf, type SoundDeliverable } from '@oiseau/album/model';
import { Form } from 'react-bootstrap';
import { Choice } from './Choice.js';
import { t } from '../ui/messages.js';

interface TagSettingsProps {
  readonly deliverable: SoundDeliverable;
  readonly onChange: (deliverable: SoundDeliverable) => void;
}

/** Containers with an ID3 tag: WAV has one in a chunk. */
const WITH_ID3: readonly string[] = ['id3', 'riff'];
const LOUDNESS = { replaygain: 'ReplayGain', r128: 'R128' };

/** What the tags of files tell beside the words, and a playlist beside the files of tracks. */
export function TagSettings({ deliverable, onChange }: TagSettingsProps) {
  const { id3, loudnessTags, tempoTags } = deliverable;
  const { tags, loudness } = factsOf(codingOf(deliverable));
  return (
    <>
      {WITH_ID3.includes(tags) && (
        <Choice
          label={t('ID3')}
          value={id3 === 2.4 ? '2.4' : '2.3'}
          options={[
            ['2.3', t('version 2.3')],
            ['2.4', t('version 2.4')],
          ]}
          onChange={(text) => onChange({ ...deliverable, id3: text === '2.4' ? 2.4 : 2.3 })}
        />
      )}
      <Check
        label={t('Loudness tags ({kind})', { kind: LOUDNESS[loudness] })}
        on={loudnessTags}
        onChange={(on) => onChange({ ...deliverable, loudnessTags: on })}
      />
      {deliverable.kind === 'tracks' && (
        <>
          <Check
            label={t('Tempo tags, where known')}
            on={tempoTags}
            onChange={(on) => onChange({ ...deliverable, tempoTags: on })}
          />
          <Check
            label={t('Playlist (M3U8)')}
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
