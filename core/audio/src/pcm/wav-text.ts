import { ByteWriter } from './bytes.js';

/** What a WAV file says beside its audio. Empty text is left out. */
export interface WavText {
  /** LIST INFO: four letters and their text. */
  readonly info: readonly { readonly key: string; readonly value: string }[];
  readonly isrc: string;
  /** A whole ID3v2 tag; null for none. */
  readonly id3: Uint8Array | null;
  /** ASCII, 256 characters at the most. */
  readonly description: string;
  /** The day on which it was made, `yyyy-mm-dd`, or empty. */
  readonly date: string;
  /** What shortened the words to this length, for the coding history; empty where nothing did. */
  readonly dither: string;
  readonly marks: readonly { readonly at: number; readonly name: string }[];
}

/** What `bext` tells of the loudness of a file; null where there is none (silence). */
export interface BextLoudness {
  readonly integratedLufs: number | null;
  readonly loudnessRangeLu: number | null;
  readonly truePeakDbtp: number | null;
  readonly maxMomentaryLufs: number | null;
  readonly maxShortTermLufs: number | null;
}

const BEXT_BYTES = 602;
/** Offset of the five loudness values inside the chunk [EBU Tech 3285 version 2]. */
const LOUDNESS_AT = 412;
/** A loudness value that is not told. */
const NOT_TOLD = 0x7fff;

/** The chunks of text, coding history as in EBU R 98, that stand before the audio, ready to be written; `loudnessAt` is where the loudness values begin in them. */
export function wavTextChunks(
  text: WavText,
  form: { readonly rate: number; readonly bits: number },
): { bytes: Uint8Array; loudnessAt: number } {
  const out = new ByteWriter();
  const made = text.dither === '' ? '' : `,T=Oiseau;${text.dither} dither`;
  const history = new TextEncoder().encode(`A=PCM,F=${form.rate},W=${form.bits},M=stereo${made}\r\n`);
  chunk(out, 'bext', [...bext(text), ...history]);
  if (text.info.length > 0) {
    const list = new ByteWriter().latin1('INFO');
    for (const { key, value } of text.info) chunk(list, key, zeroEnded(value));
    chunk(out, 'LIST', list.done());
  }
  if (text.isrc !== '') chunk(out, 'axml', new TextEncoder().encode(isrcXml(text.isrc)));
  if (text.id3) chunk(out, 'id3 ', text.id3);
  if (text.marks.length > 0) marks(out, text.marks);
  return { bytes: out.done(), loudnessAt: 8 + LOUDNESS_AT };
}

/** The five loudness values of `bext`: hundredths, signed 16 bit [EBU Tech 3285 version 2]. */
export function bextLoudness(loudness: BextLoudness): Uint8Array {
  const { integratedLufs, loudnessRangeLu, truePeakDbtp, maxMomentaryLufs, maxShortTermLufs } = loudness;
  const out = new ByteWriter();
  for (const value of [integratedLufs, loudnessRangeLu, truePeakDbtp, maxMomentaryLufs, maxShortTermLufs]) {
    const hundredths = value === null ? NOT_TOLD : Math.round(value * 100);
    out.u16(Math.abs(hundredths) >= NOT_TOLD ? NOT_TOLD : hundredths & 0xffff);
  }
  return out.done();
}

function chunk(out: ByteWriter, id: string, bytes: readonly number[] | Uint8Array): void {
  out.latin1(id).u32(bytes.length).raw(bytes);
  if (bytes.length % 2) out.raw([0]);
}

const zeroEnded = (text: string): number[] => [...new TextEncoder().encode(text), 0];

function bext({ description, date }: WavText): Uint8Array {
  const fixed = (text: string, width: number): number[] => {
    const bytes = Array.from(text.slice(0, width), (char) => char.charCodeAt(0) & 0x7f);
    return [...bytes, ...new Array<number>(width - bytes.length).fill(0)];
  };
  const day = /^\d{4}-\d\d-\d\d$/.test(date) ? date : '';
  const out = new ByteWriter()
    .raw(fixed(description, 256))
    .raw(fixed('Oiseau', 32))
    .raw(fixed('', 32))
    .raw(fixed(day, 10))
    .raw(fixed(day === '' ? '' : '00:00:00', 8))
    // Time reference 0, version 2, no UMID.
    .u64(0)
    .u16(2)
    .raw(new Uint8Array(64));
  for (let i = 0; i < 5; i++) out.u16(NOT_TOLD);
  out.raw(new Uint8Array(180));
  if (out.length !== BEXT_BYTES) throw new RangeError(`bext of ${out.length} bytes`);
  return out.done();
}

/** The ISRC as EBU Tech 3352 has it. */
const isrcXml = (isrc: string): string =>
  '<?xml version="1.0" encoding="UTF-8"?>' +
  '<ebuCoreMain xmlns:dc="http://purl.org/dc/elements/1.1/" xmlns="urn:ebu:metadata-schema:ebuCore_2012">' +
  '<coreMetadata><identifier typeLabel="GUID" typeDefinition="Globally Unique Identifier" formatLabel="ISRC" ' +
  'formatDefinition="International Standard Recording Code" ' +
  'formatLink="http://www.ebu.ch/metadata/cs/ebu_IdentifierTypeCodeCS.xml#3.7">' +
  `<dc:identifier>ISRC:${isrc}</dc:identifier></identifier></coreMetadata></ebuCoreMain>`;

/** Cue points, and their names in an associated data list. */
function marks(out: ByteWriter, all: WavText['marks']): void {
  const points = new ByteWriter().u32(all.length);
  const names = new ByteWriter().latin1('adtl');
  all.forEach(({ at, name }, i) => {
    points
      .u32(i + 1)
      .u32(at)
      .latin1('data')
      .u32(0)
      .u32(0)
      .u32(at);
    const label = new ByteWriter().u32(i + 1).raw(zeroEnded(name));
    chunk(names, 'labl', label.done());
  });
  chunk(out, 'cue ', points.done());
  chunk(out, 'LIST', names.done());
}
