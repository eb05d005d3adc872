import { MAIN } from '@oiseau/album/model';
import { useShortcuts } from '../ui/useShortcuts.js';
import { useRecording } from '../album/PlayerContext.js';
import { t } from '../ui/messages.js';

/** What a recording is called by people. */
export const recordingWords = (name: string): string => (name === MAIN ? 'masters' : name);

/** Which recording of the album is heard: it goes over at the moment that is heard. Nothing where songs have but their masters. */
export function RecordingChooser() {
  const heard = useRecording();
  useShortcuts({
    R: () => {
      if (!heard) return;
      const { names, recording, hear } = heard;
      hear(names[(names.indexOf(recording) + 1) % names.length] ?? MAIN);
    },
  });
  if (!heard) return null;
  const { names, recording, hear } = heard;
  return (
    <label className="recording-chooser" title={t('Version to play (R)')}>
      <span>{t('version')}</span>
      <select
        className={recording === MAIN ? '' : 'other'}
        aria-label={t('Version to play')}
        value={recording}
        onChange={({ target }) => {
          hear(target.value);
          // The keys are the transport’s again.
          target.blur();
        }}
      >
        {names.map((name) => (
          <option key={name} value={name}>
            {recordingWords(name)}
          </option>
        ))}
      </select>
    </label>
  );
}
