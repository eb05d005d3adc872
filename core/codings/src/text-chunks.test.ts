import { describe, expect, it } from 'vitest';
import {
  aiffHeader,
  swapWords,
  TooLongForContainer,
  memorySource,
  readEmbeddedText,
  readEmbeddedWords,
  examineMaster,
  bextLoudness,
  wavTextChunks,
  wavHeader,
} from '@oiseau/audio/pcm';
import { id3Tag } from './id3.js';

const marks = [
  { at: 0, name: '1 Lamp' },
  { at: 100, name: '2 Ébb' },
];
const text = {
  info: [
    { key: 'INAM', value: 'Lamp' },
    { key: 'IART', value: 'Ébb' },
  ],
  isrc: 'ZZOIS2600001',
  description: 'Marram Lamps: Lamp',
  date: '2026-11-09',
  ...{ id3: null, dither: 'triangular' },
  marks,
};

describe('what a WAV file says beside its audio', () => {
  const { bytes, loudnessAt } = wavTextChunks(text, { rate: 44_100, bits: 16 });
  const view = new DataView(bytes.buffer);
  it('begins with a bext of version 2 whose loudness is not told yet', () => {
    expect(Buffer.from(bytes.subarray(0, 4)).toString()).toBe('bext');
    // 602 bytes and the coding history [EBU R 98].
    const history = 'A=PCM,F=44100,W=16,M=stereo,T=Oiseau;triangular dither\r\n';
    expect(view.getUint32(4, true)).toBe(602 + history.length);
    expect(Buffer.from(bytes.subarray(8 + 602, 8 + 602 + history.length)).toString()).toBe(history);
    expect(Buffer.from(bytes.subarray(8, 26)).toString()).toBe('Marram Lamps: Lamp');
    // Description 256, originator 32, reference 32, then the day and the time.
    expect(Buffer.from(bytes.subarray(8 + 320, 8 + 338)).toString()).toBe('2026-11-0900:00:00');
    expect(view.getUint16(8 + 346, true)).toBe(2);
    // Version 2 and a UMID of 64 bytes stand before the loudness.
    expect(loudnessAt).toBe(8 + 346 + 2 + 64);
    expect(view.getInt16(loudnessAt, true)).toBe(0x7fff);
  });
  it('has its loudness in hundredths', () => {
    const told = bextLoudness({
      integratedLufs: -14.25,
      loudnessRangeLu: 6.5,
      truePeakDbtp: -1.004,
      maxMomentaryLufs: null,
      maxShortTermLufs: -11.1,
    });
    const values = new DataView(told.buffer);
    expect([0, 2, 4, 6, 8].map((at) => values.getInt16(at, true))).toEqual([-1425, 650, -100, 0x7fff, -1110]);
  });
  it('is found again by the reader, and every chunk is padded to even', async () => {
    expect(bytes.length % 2).toBe(0);
    const file = Uint8Array.from([...wavHeader('int16', 44_100, 200, bytes), ...new Uint8Array(800)]);
    const form = await examineMaster(memorySource(file), true);
    expect(form).toMatchObject({ kind: 'pcm', info: { length: 200, rate: 44_100 } });
    if (form.kind !== 'pcm') return;
    const found = await readEmbeddedText(memorySource(file), form.info);
    expect(found.fields).toMatchObject({ title: 'Lamp', performer: 'Ébb', isrc: 'ZZOIS2600001' });
    expect(found.cues).toEqual(marks);
  });
});

describe('an AIFF file', () => {
  it.each(['int16', 'int24', 'int32', 'float32'] as const)(
    'of %s is read back, marks and all',
    async (format) => {
      const head = aiffHeader(format, 96_000, 200, { marks, id3: new Uint8Array(11) });
      const bytes = { int16: 2, int24: 3, int32: 4, float32: 4 }[format];
      const file = Uint8Array.from([...head, ...new Uint8Array(200 * 2 * bytes)]);
      expect(new DataView(file.buffer).getUint32(4)).toBe(file.length - 8);
      const form = await examineMaster(memorySource(file), true);
      expect(form).toMatchObject({
        kind: 'pcm',
        info: {
          container: format === 'float32' ? 'AIFC' : 'AIFF',
          rate: 96_000,
          length: 200,
          format,
          order: 'big',
        },
      });
      if (form.kind === 'pcm')
        expect((await readEmbeddedText(memorySource(file), form.info)).cues).toEqual(marks);
    },
  );
  it('holds 4 GiB at the most', () => {
    expect(() => aiffHeader('int32', 96_000, 2 ** 29, { marks: [], id3: new Uint8Array() })).toThrow(
      TooLongForContainer,
    );
  });
  it('has its words the other way round', () => {
    expect([...swapWords(Uint8Array.from([1, 2, 3, 4, 5, 6]), 3)]).toEqual([3, 2, 1, 6, 5, 4]);
  });
});

it('what stands in axml is told by itself, whatever ID3 says', async () => {
  const id3 = id3Tag({ tags: [{ key: 'TSRC', value: 'ZZOIS2600009' }], picture: null, chapters: [] }, 2.3);
  const { bytes } = wavTextChunks({ ...text, id3 }, { rate: 44_100, bits: 16 });
  const file = memorySource(
    Uint8Array.from([...wavHeader('int16', 44_100, 200, bytes), ...new Uint8Array(800)]),
  );
  const form = await examineMaster(file, true);
  if (form.kind !== 'pcm') throw new Error('no plain words');
  const found = await readEmbeddedWords(file, form.info);
  expect([found.text.fields.isrc, found.besideId3.isrc]).toEqual(['ZZOIS2600009', 'ZZOIS2600001']);
});
