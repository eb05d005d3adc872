import {
  DITHER_KINDS,
  ditherOf,
  formatClock,
  PATTERN_WORDS,
  samples,
  samplesToTicks,
  unknownWords,
  type Deliverable,
  type DitherKind,
  type Plan,
} from '@oiseau/core';
import { useId } from 'react';
import { Form } from 'react-bootstrap';
import { DraftField } from '../ui/DraftField.js';
import { count, formatBytes, formatRate } from '../ui/format.js';

interface DeliverableCardProps {
  readonly deliverable: Deliverable;
  readonly plan: Plan;
  readonly onChange: (deliverable: Deliverable) => void;
}

/** A line of advice for each kind of dither (trade.md section 4). */
const DITHER_ADVICE: Record<DitherKind, string> = {
  none: 'Rounds only: the error follows the music. For test signals.',
  rectangular: 'One LSB wide: its noise breathes with the music. Triangular is nearly always better.',
  triangular: 'The safe choice: steady, quiet noise, also where something may still be done to the file.',
  shaped: 'For a finished 16-bit master: less noise where the ear is keen, more where it is not.',
};

function patternFault(text: string): string | undefined {
  if (text.trim() === '') return 'A name needs at least a word.';
  const [unknown] = unknownWords(text);
  return unknown === undefined
    ? undefined
    : `{${unknown}} is not known; there are ${PATTERN_WORDS.map((word) => `{${word}}`).join(' ')}.`;
}

/** One deliverable: its settings and every file it will write. */
export function DeliverableCard({ deliverable, plan, onChange }: DeliverableCardProps) {
  const bytes = plan.audio.reduce((sum, { pcmBytes }) => sum + pcmBytes, 0);
  const files = plan.audio.length + (plan.sheet ? 1 : 0);
  const coded = plan.audio.some(({ container }) => container === 'flac');
  return (
    <section className="deliverable" aria-label={deliverable.name}>
      <header>
        <h3>
          {deliverable.kind === 'cue'
            ? 'Disc image with cue sheet'
            : `${deliverable.format === 'flac' ? 'FLAC' : 'WAV'} for each track`}
        </h3>
        <span className="text-secondary">
          {count(files, 'file')}, {coded ? 'at most ' : ''}
          {formatBytes(bytes)}
        </span>
      </header>
      <div className="settings">
        {deliverable.kind === 'cue' ? (
          <CueSettings deliverable={deliverable} onChange={onChange} />
        ) : (
          <TracksSettings deliverable={deliverable} onChange={onChange} />
        )}
      </div>
      <ol className="plan-files">
        {plan.sheet && (
          <li>
            <span className="file-name">{plan.sheet.path}</span>
            <span className="text-secondary">cue sheet</span>
          </li>
        )}
        {plan.audio.map(({ path, rate, format, length }) => (
          <li key={path}>
            <span className="file-name">{path}</span>
            <span className="text-secondary">
              {formatRate(rate)}, {format === 'float32' ? 'float' : `${format.slice(3)} bit`}
            </span>
            <span className="num">{formatClock(samplesToTicks(samples(length), rate), 1)}</span>
          </li>
        ))}
      </ol>
    </section>
  );
}

type Of<K extends Deliverable['kind']> = Extract<Deliverable, { kind: K }>;

function CueSettings({
  deliverable,
  onChange,
}: {
  deliverable: Of<'cue'>;
  onChange: (deliverable: Deliverable) => void;
}) {
  return (
    <>
      <Choice
        label="Image"
        value={deliverable.audio}
        options={[
          ['wav', 'WAV'],
          ['bin', 'BIN (raw sectors)'],
        ]}
        onChange={(audio) => onChange({ ...deliverable, audio })}
      />
      <DitherChoice value={deliverable.dither} onChange={(dither) => onChange({ ...deliverable, dither })} />
      <p className="setting-note">44.1 kHz, 16 bit: what a disc holds.</p>
    </>
  );
}

function TracksSettings({
  deliverable,
  onChange,
}: {
  deliverable: Of<'tracks'>;
  onChange: (deliverable: Deliverable) => void;
}) {
  const { format, bits, rate, gaps, pattern } = deliverable;
  const words = format === 'flac' ? (['16', '24'] as const) : (['16', '24', '32', 'float'] as const);
  const asBits = (text: string): typeof bits =>
    text === 'float' ? 'float' : text === '16' ? 16 : text === '32' ? 32 : 24;
  return (
    <>
      <Choice
        label="Format"
        value={format}
        options={[
          ['flac', 'FLAC'],
          ['wav', 'WAV'],
        ]}
        onChange={(chosen) =>
          onChange({ ...deliverable, format: chosen, bits: chosen === 'flac' && bits !== 16 ? 24 : bits })
        }
      />
      <Choice
        label="Word"
        value={String(bits) as (typeof words)[number]}
        options={words.map((word) => [word, word === 'float' ? '32 bit float' : `${word} bit`])}
        onChange={(text) => onChange({ ...deliverable, bits: asBits(text) })}
      />
      <Choice
        label="Rate"
        value={String(rate)}
        options={[
          ['source', 'as the master'],
          ['44100', '44.1 kHz'],
          ['48000', '48 kHz'],
          ['88200', '88.2 kHz'],
          ['96000', '96 kHz'],
        ]}
        onChange={(text) =>
          onChange({
            ...deliverable,
            rate: text === 'source' ? 'source' : (Number(text) as Exclude<typeof rate, 'source'>),
          })
        }
      />
      <Choice
        label="Gaps"
        value={gaps}
        options={[
          ['append', 'at the end of the track before'],
          ['prepend', 'at the head of the track after'],
          ['drop', 'left out'],
        ]}
        onChange={(chosen) => onChange({ ...deliverable, gaps: chosen })}
      />
      {bits === 16 && (
        <DitherChoice
          value={ditherOf(deliverable)}
          onChange={(dither) => onChange({ ...deliverable, dither })}
        />
      )}
      <label className="setting">
        <span>Names</span>
        <DraftField
          label="Name pattern"
          className="form-control-sm"
          value={pattern}
          fault={patternFault}
          onCommit={(text) => onChange({ ...deliverable, pattern: text })}
        />
      </label>
    </>
  );
}

function DitherChoice({ value, onChange }: { value: DitherKind; onChange: (kind: DitherKind) => void }) {
  return (
    <>
      <Choice
        label="Dither"
        value={value}
        options={DITHER_KINDS.map((kind) => [kind, kind])}
        onChange={onChange}
      />
      <p className="setting-note">{DITHER_ADVICE[value]}</p>
    </>
  );
}

interface ChoiceProps<V extends string> {
  readonly label: string;
  readonly value: V;
  readonly options: readonly (readonly [value: V, words: string])[];
  readonly onChange: (value: V) => void;
}

function Choice<V extends string>({ label, value, options, onChange }: ChoiceProps<V>) {
  const id = useId();
  return (
    <div className="setting">
      <label htmlFor={id}>{label}</label>
      <Form.Select
        id={id}
        size="sm"
        value={value}
        onChange={({ target }) => {
          const chosen = options.find(([option]) => option === target.value);
          if (chosen) onChange(chosen[0]);
        }}
      >
        {options.map(([option, words]) => (
          <option key={option} value={option}>
            {words}
          </option>
        ))}
      </Form.Select>
    </div>
  );
}
