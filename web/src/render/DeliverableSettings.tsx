import { READER_LANGUAGE_NAMES, READER_LANGUAGES } from '@oiseau/messages';
import { AUDIO_FORMATS, codingsOf, factsOf, type Coding } from '@oiseau/codings';
import {
  bitrateOf,
  codingOf,
  ditherOf,
  hasFormat,
  PATTERN_WORDS,
  unknownWords,
  type Deliverable,
  type PackageDeliverable,
  type SoundDeliverable,
} from '@oiseau/album/model';
import { DraftField } from '../ui/DraftField.js';
import { formatRate } from '../ui/format.js';
import { Choice } from './Choice.js';
import { DitherChoice } from './DitherChoice.js';
import { SectionFields } from './SectionFields.js';
import { RecordingChoice } from './RecordingChoice.js';
import { TagSettings } from './TagSettings.js';
import { TrackChoice } from './TrackChoice.js';
import { t } from '../ui/messages.js';

interface SettingsProps<D extends Deliverable> {
  readonly deliverable: D;
  readonly onChange: (deliverable: Deliverable) => void;
}

/** The settings of one deliverable: only those that mean something for it. */
export function DeliverableSettings({ deliverable, onChange }: SettingsProps<Deliverable>) {
  return (
    <div className="settings">
      <RecordingChoice deliverable={deliverable} onChange={onChange} />
      {(deliverable.kind === 'ddp' || deliverable.kind === 'cue') && (
        <ImageSettings deliverable={deliverable} onChange={onChange} />
      )}
      {hasFormat(deliverable) && <SoundSettings deliverable={deliverable} onChange={onChange} />}
      {deliverable.kind === 'package' && <PackageSettings deliverable={deliverable} onChange={onChange} />}
      {deliverable.kind === 'listening' && (
        <>
          <Choice
            label={t('Format')}
            value={deliverable.format}
            options={[
              ['mp3', t('MP3, 320 kbit/s')],
              ['m4a', t('AAC (M4A), 256 kbit/s')],
              ['flac', t('FLAC, 16 bit')],
              ['wav', t('WAV, 16 bit')],
            ]}
            onChange={(format) => onChange({ ...deliverable, format })}
          />
          <p className="setting-note">
            {t(
              'One file for each part with its gaps, and an HTML page that plays it and takes notes and a response. The response is a small file to send back.',
            )}
          </p>
        </>
      )}
      {deliverable.kind === 'cutting-room' && (
        <>
          <PapersChoice deliverable={deliverable} onChange={onChange} />
          <p className="setting-note">
            {t(
              'A 24-bit file for each side at the highest sample rate of the masters, and a cutting sheet (CSV and PDF) with position, length, gap, peak and loudest passage of each track.',
            )}
          </p>
        </>
      )}
    </div>
  );
}

/** The language of the PDFs among the files. */
function PapersChoice({
  deliverable,
  onChange,
}: SettingsProps<Extract<Deliverable, { kind: 'package' | 'cutting-room' }>>) {
  return (
    <Choice
      label={t('Language of the PDFs')}
      value={deliverable.language ?? 'en'}
      options={READER_LANGUAGES.map((language) => [language, READER_LANGUAGE_NAMES[language]])}
      onChange={(language) => onChange({ ...deliverable, language })}
    />
  );
}

function ImageSettings({
  deliverable,
  onChange,
}: SettingsProps<Extract<Deliverable, { kind: 'ddp' | 'cue' }>>) {
  return (
    <>
      {deliverable.kind === 'cue' && (
        <Choice
          label={t('Image')}
          value={deliverable.audio}
          options={[
            ['wav', 'WAV'],
            ['bin', t('BIN (raw sectors)')],
          ]}
          onChange={(audio) => onChange({ ...deliverable, audio })}
        />
      )}
      <DitherChoice value={deliverable.dither} onChange={(dither) => onChange({ ...deliverable, dither })} />
    </>
  );
}

/** The formats on offer, by the name of what their files are called. */
const FORMATS = AUDIO_FORMATS.map(
  (format) => [format, codingsOf(format).map((coding) => factsOf(coding).formatLabel)[0] ?? format] as const,
);

/** A deliverable of another format, with what that can't hold set to what it can. */
function inFormat(
  deliverable: SoundDeliverable,
  change: Partial<Pick<SoundDeliverable, 'format' | 'codec'>>,
): SoundDeliverable {
  const next = { ...deliverable, ...change };
  const { bits, rates, lossy } = factsOf(codingOf(next));
  return {
    ...next,
    bits: lossy || bits.includes(next.bits) ? next.bits : 24,
    rate: next.rate === 'source' || rates.includes(next.rate) ? next.rate : 'source',
    bitrate: null,
    quality: null,
  };
}

type Bits = SoundDeliverable['bits'];
const bitsOf = (text: string): Bits =>
  text === 'float' ? 'float' : text === '16' ? 16 : text === '32' ? 32 : 24;

function SoundSettings({ deliverable, onChange }: SettingsProps<SoundDeliverable>) {
  const coding = codingOf(deliverable);
  const { bits, rates, lossy } = factsOf(coding);
  const asIs = deliverable.kind === 'tracks' ? t('same as the master') : t('highest of the masters');
  return (
    <>
      <Choice
        label={t('Format')}
        value={deliverable.format}
        options={FORMATS}
        onChange={(format) => onChange(inFormat(deliverable, { format }))}
      />
      {codingsOf(deliverable.format).length > 1 && (
        <Choice
          label={t('Coding')}
          value={deliverable.codec}
          options={codingsOf(deliverable.format).map((each) => [
            each as SoundDeliverable['codec'],
            t('{name} ({kind})', {
              name: each.toUpperCase(),
              kind: factsOf(each).lossy ? t('lossy') : t('lossless'),
            }),
          ])}
          onChange={(codec) => onChange(inFormat(deliverable, { codec }))}
        />
      )}
      {lossy ? (
        <BitrateChoice deliverable={deliverable} coding={coding} onChange={onChange} />
      ) : (
        <Choice
          label={t('Bit depth')}
          value={String(deliverable.bits)}
          options={bits.map((word) => [
            String(word),
            word === 'float' ? t('32 bit float') : t('{word} bit', { word }),
          ])}
          onChange={(text) => onChange({ ...deliverable, bits: bitsOf(text) })}
        />
      )}
      {rates.length > 1 && (
        <Choice
          label={t('Sample rate')}
          value={String(deliverable.rate)}
          options={[['source', asIs], ...rates.map((rate) => [String(rate), formatRate(rate)] as const)]}
          onChange={(text) => {
            const rate = rates.find((each) => String(each) === text) as Exclude<
              SoundDeliverable['rate'],
              'source'
            >;
            onChange({ ...deliverable, rate: text === 'source' ? 'source' : rate });
          }}
        />
      )}
      {!lossy && deliverable.bits === 16 && (
        <DitherChoice
          value={ditherOf(deliverable)}
          onChange={(dither) => onChange({ ...deliverable, dither })}
        />
      )}
      {deliverable.kind === 'tracks' ? (
        <TrackFileSettings deliverable={deliverable} onChange={onChange} />
      ) : (
        <SectionFields deliverable={deliverable} onChange={onChange} />
      )}
      <TagSettings deliverable={deliverable} onChange={onChange} />
    </>
  );
}

const SHOP_RATES = [44_100, 48_000, 88_200, 96_000, 176_400, 192_000] as const;

function PackageSettings({ deliverable, onChange }: SettingsProps<PackageDeliverable>) {
  const { format, bits, rate, cover } = deliverable;
  return (
    <>
      <Choice
        label={t('Format')}
        value={format}
        options={[
          ['flac', 'FLAC'],
          ['wav', 'WAV'],
        ]}
        onChange={(chosen) => onChange({ ...deliverable, format: chosen })}
      />
      <Choice
        label={t('Bit depth')}
        value={String(bits)}
        options={[
          ['24', t('24 bit')],
          ['16', t('16 bit')],
        ]}
        onChange={(text) => onChange({ ...deliverable, bits: text === '16' ? 16 : 24 })}
      />
      <Choice
        label={t('Sample rate')}
        value={String(rate)}
        options={[
          ['source', t('same as the master')],
          ...SHOP_RATES.map((each) => [String(each), formatRate(each)] as const),
        ]}
        onChange={(text) =>
          onChange({ ...deliverable, rate: SHOP_RATES.find((each) => String(each) === text) ?? 'source' })
        }
      />
      {bits === 16 && (
        <DitherChoice
          value={ditherOf(deliverable)}
          onChange={(dither) => onChange({ ...deliverable, dither })}
        />
      )}
      <Choice
        label={t('Cover')}
        value={cover}
        options={[
          ['jpeg', t('JPEG, 3000 pixels')],
          ['png', t('PNG, 3000 pixels')],
        ]}
        onChange={(chosen) => onChange({ ...deliverable, cover: chosen })}
      />
      <PapersChoice deliverable={deliverable} onChange={onChange} />
      <p className="setting-note">
        {t(
          'A bag with one file for each track, the artwork, all text and codes in release.json, the label copy and the loudness report.',
        )}
      </p>
    </>
  );
}

/** Places in the qualities of a variable bit rate. */
const OFFERED_QUALITIES = [0, 2, 4, 6];
const USUAL_BITRATES = [64, 96, 128, 160, 192, 256, 320, 400];

/** A constant bit rate, or for MP3 a quality at a variable one. */
function BitrateChoice({
  deliverable,
  coding,
  onChange,
}: SettingsProps<SoundDeliverable> & { readonly coding: Coding }) {
  const { bitrate: range, qualities } = factsOf(coding);
  if (!range) return null;
  const rates = (range.only ?? USUAL_BITRATES).filter((rate) => rate >= range.least && rate <= range.most);
  const now = bitrateOf(deliverable);
  const all = now === null || rates.includes(now) ? rates : [...rates, now].sort((a, b) => a - b);
  const constant = all.map((rate) => [`b${rate}`, t('{rate} kbit/s', { rate })] as const);
  const variable = OFFERED_QUALITIES.filter((quality) => quality in qualities).map(
    (quality) => [`q${quality}`, t('variable, quality {quality}', { quality })] as const,
  );
  return (
    <Choice
      label={t('Bit rate')}
      value={deliverable.quality !== null && qualities.length > 0 ? `q${deliverable.quality}` : `b${now}`}
      options={[...constant, ...variable]}
      onChange={(text: string) => {
        const value = Number(text.slice(1));
        onChange(
          text.startsWith('q')
            ? { ...deliverable, bitrate: null, quality: value }
            : { ...deliverable, bitrate: value, quality: null },
        );
      }}
    />
  );
}

function patternFault(text: string): string | undefined {
  if (text.trim() === '') return t('Add at least one word in braces.');
  const [unknown] = unknownWords(text);
  return unknown === undefined
    ? undefined
    : t('{unknown} is unknown. Use {known}.', {
        unknown: `{${unknown}}`,
        known: PATTERN_WORDS.map((word) => `{${word}}`).join(' '),
      });
}

function TrackFileSettings({
  deliverable,
  onChange,
}: SettingsProps<Extract<Deliverable, { kind: 'tracks' }>>) {
  const { gaps, pattern, select } = deliverable;
  return (
    <>
      <Choice
        label={t('Gaps')}
        value={gaps}
        options={[
          ['append', t('at the end of the previous track')],
          ['prepend', t('at the start of the next track')],
          ['drop', t('left out')],
        ]}
        onChange={(chosen) => onChange({ ...deliverable, gaps: chosen })}
      />
      <TrackChoice select={select} onChange={(chosen) => onChange({ ...deliverable, select: chosen })} />
      <label className="setting">
        <span>{t('Names')}</span>
        <DraftField
          label={t('Name pattern')}
          className="form-control-sm"
          value={pattern}
          fault={patternFault}
          onCommit={(text) => onChange({ ...deliverable, pattern: text })}
        />
      </label>
      <p className="setting-note pattern-words">
        {PATTERN_WORDS.map((word) => (
          <button
            key={word}
            type="button"
            title={t(`Add '{'{word}'}' to the names`, { word })}
            onClick={() =>
              onChange({ ...deliverable, pattern: t(`{pattern} '{'{word}'}'`, { pattern, word }).trim() })
            }
          >
            {t(`'{'{word}'}'`, { word })}
          </button>
        ))}
      </p>
    </>
  );
}
