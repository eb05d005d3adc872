import { MAIN } from '@oiseau/album/model';
import { useShortcuts } from '../ui/useShortcuts.js';
import { useRecording } from '../album/PlayerContext.js';

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
    <label className="recording-chooser" title="Version to play (R)">
      <span>version</span>
      <select
        className={recording === MAIN ? '' : 'other'}
        aria-label="Version to play"
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
