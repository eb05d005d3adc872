import { secondsToTicks } from '@oiseau/audio/time';
import type { PieceJoin } from '@oiseau/formats/cutting';
import { Form } from 'react-bootstrap';
import { NumberField } from '../ui/NumberField.js';
import { t } from '../ui/messages.js';

/** What the person chose to become of the stretches between the sounds; seconds and dBFS. */
export interface Choice {
  readonly kind: PieceJoin['kind'];
  readonly gap: number;
  readonly thresholdDb: number;
  readonly head: number;
  readonly tail: number;
  /** Cuts move to the nearest zero crossing. */
  readonly crossings: boolean;
}

export const START_CHOICE: Choice = {
  kind: 'continuous',
  gap: 2,
  thresholdDb: -60,
  head: 0.2,
  tail: 1,
  crossings: true,
};

export function joinOf({ kind, gap, thresholdDb, head, tail }: Choice): PieceJoin {
  if (kind === 'continuous') return { kind };
  const trim = { thresholdDb, headMargin: secondsToTicks(head), tailMargin: secondsToTicks(tail) };
  return { kind, gap: secondsToTicks(gap), trim };
}

/** Whether the tracks run into each other as the recording does, or are trimmed to their sound with gaps. */
export function JoinChoice({ choice, onChange }: { choice: Choice; onChange: (choice: Choice) => void }) {
  const set = (change: Partial<Choice>): void => onChange({ ...choice, ...change });
  return (
    <fieldset className="cut-tool">
      <legend>{t('Tracks')}</legend>
      <Form.Check
        type="radio"
        name="join"
        id="join-continuous"
        label={t('Continuous, without gaps')}
        checked={choice.kind === 'continuous'}
        onChange={() => set({ kind: 'continuous' })}
      />
      <Form.Check
        type="radio"
        name="join"
        id="join-trimmed"
        label={t('Trimmed to their sound, with gaps')}
        checked={choice.kind === 'trimmed'}
        onChange={() => set({ kind: 'trimmed' })}
      />
      {choice.kind === 'trimmed' && (
        <div className="cut-numbers">
          <NumberField
            label={t('Gap')}
            unit="s"
            value={choice.gap}
            least={0}
            most={60}
            onChange={(gap) => set({ gap })}
          />
          <NumberField
            label={t('Threshold')}
            unit="dBFS"
            value={choice.thresholdDb}
            least={-96}
            most={-10}
            onChange={(thresholdDb) => set({ thresholdDb })}
          />
          <NumberField
            label={t('Keep before the sound')}
            unit="s"
            value={choice.head}
            least={0}
            most={10}
            onChange={(head) => set({ head })}
          />
          <NumberField
            label={t('Keep after the sound')}
            unit="s"
            value={choice.tail}
            least={0}
            most={30}
            onChange={(tail) => set({ tail })}
          />
        </div>
      )}
      <Form.Check
        type="checkbox"
        id="crossings"
        label={t('Move cuts to zero crossings')}
        checked={choice.crossings}
        onChange={({ target }) => set({ crossings: target.checked })}
      />
    </fieldset>
  );
}
