import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Block, WordFormat } from './block.js';
import { ByteWriter, memorySource, MemorySink, type ByteSource } from './bytes.js';
import { AudioRefused, type RefusalReason } from './refusal.js';
import { openWav, readWavInfo } from './wav-read.js';
import { wavHeader, WavWriter } from './wav-write.js';
import { decodeWords, encodeWords, toWord } from './words.js';

interface Recipe {
  tag?: number;
  channels?: number;
  rate?: number;
  bits?: number;
  data?: number[];
  before?: [string, number[]][];
  after?: number[];
  dataSize?: number;
  extension?: (out: ByteWriter) => void;
}

/** A WAV file put together chunk by chunk, independent of the core's own writer. */
function wav({
  tag = 1,
  channels = 2,
  rate = 44_100,
  bits = 16,
  data = [0, 0, 0, 0],
  before = [],
  after = [],
  dataSize,
  extension,
}: Recipe): Uint8Array {
  const out = new ByteWriter().latin1('RIFF').u32(0).latin1('WAVE');
  for (const [id, body] of before) {
    out.latin1(id).u32(body.length).raw(body);
    if (body.length % 2) out.raw([0]);
  }
  const blockAlign = (bits / 8) * channels;
  out
    .latin1('fmt ')
    .u32(extension ? 40 : 16)
    .u16(tag)
    .u16(channels)
    .u32(rate)
    .u32(rate * blockAlign)
    .u16(blockAlign)
    .u16(bits);
  extension?.(out);
  out
    .latin1('data')
    .u32(dataSize ?? data.length)
    .raw(data)
    .raw(after);
  return out.done();
}

const refusal = async (bytes: Uint8Array): Promise<AudioRefused> => {
  const caught: unknown = await readWavInfo(memorySource(bytes)).catch((error: unknown) => error);
  if (!(caught instanceof AudioRefused)) throw new Error(`not refused: ${String(caught)}`);
  return caught;
};

describe('words', () => {
  it('become n / 2^(B−1)', () => {
    expect([...decodeWords(Uint8Array.of(0x00, 0x80, 0xff, 0x7f), 'int16', 2).left]).toEqual([-1]);
    expect([...decodeWords(Uint8Array.of(0x00, 0x80, 0xff, 0x7f), 'int16', 2).right]).toEqual([
      32767 / 32768,
    ]);
    // 0xfffffe = −2 of 2^23
    expect(decodeWords(Uint8Array.of(0xfe, 0xff, 0xff), 'int24', 1).left[0]).toBe(-2 / 8_388_608);
    expect(decodeWords(Uint8Array.of(0, 0, 0, 0x40), 'int32', 1).left[0]).toBe(0.5);
  });

  it('put mono in both channels at unity', () => {
    const { left, right } = decodeWords(Uint8Array.of(0x00, 0x40), 'int16', 1);
    expect([left[0], right[0]]).toEqual([0.5, 0.5]);
  });

  it('round to the nearest with halves up, and limit instead of wrapping', () => {
    expect(toWord(0.5 / 32768, 32_768)).toBe(1);
    expect(toWord(-0.5 / 32768, 32_768)).toBe(0);
    expect(toWord(1, 32_768)).toBe(32767);
    expect(toWord(-1.5, 32_768)).toBe(-32768);
    expect(toWord(7, 8_388_608)).toBe(8_388_607);
  });

  it.each<WordFormat>(['int16', 'int24', 'int32', 'float32', 'float64'])(
    'of %s survive decoding and encoding bit-perfect',
    (format) => {
      const step = { int16: 4, int24: 6, int32: 8, float32: 8, float64: 16 }[format];
      fc.assert(
        fc.property(fc.uint8Array({ minLength: step, maxLength: step * 8 }), (raw) => {
          const bytes = raw.slice(0, raw.length - (raw.length % step));
          const values = decodeWords(bytes, format, 2);
          fc.pre([...values.left, ...values.right].every((value) => Number.isFinite(value)));
          expect(encodeWords(values, format)).toEqual(bytes);
        }),
      );
    },
  );
});

describe('reading WAV', () => {
  it('passes over odd chunks before the audio and rubbish behind it', async () => {
    const bytes = wav({
      before: [
        ['junk', [1, 2, 3]],
        ['LIST', [9]],
      ],
      data: [1, 0, 2, 0, 3, 0, 4, 0],
      after: [7, 7, 7],
    });
    const source = await openWav(memorySource(bytes));
    const { left, right } = await source.read(0, 2);
    expect(source.length).toBe(2);
    expect([...left, ...right].map((v) => v * 32768)).toEqual([1, 3, 2, 4]);
  });

  it('reads the extensible form, its valid bits and its sub-format', async () => {
    const subFormat = [1, 0, 0, 0, 0, 0, 16, 0, 128, 0, 0, 170, 0, 56, 155, 113];
    const extensible = (guid: number[]) =>
      wav({
        tag: 0xfffe,
        bits: 24,
        data: new Array<number>(6).fill(0),
        extension: (out) => out.u16(22).u16(20).u32(3).raw(guid),
      });
    expect(await readWavInfo(memorySource(extensible(subFormat)))).toMatchObject({
      format: 'int24',
      validBits: 20,
      length: 1,
    });
    expect((await refusal(extensible([1, 0, 1, ...subFormat.slice(3)]))).reason).toBe('unsupported-words');
  });

  it('reads RF64 with its length in ds64', async () => {
    const out = new ByteWriter()
      .latin1('RF64')
      .u32(0xffffffff)
      .latin1('WAVE')
      .latin1('ds64')
      .u32(28)
      .u64(0)
      .u64(8)
      .u64(2)
      .u32(0);
    out
      .latin1('fmt ')
      .u32(16)
      .u16(1)
      .u16(2)
      .u32(96_000)
      .u32(384_000)
      .u16(4)
      .u16(16)
      .latin1('data')
      .u32(0xffffffff)
      .raw([1, 0, 2, 0, 3, 0, 4, 0, 99, 99]);
    expect(await readWavInfo(memorySource(out.done()))).toMatchObject({
      container: 'RF64',
      rate: 96_000,
      length: 2,
    });
  });

  it('reads what lies around the ends as silence', async () => {
    const source = await openWav(memorySource(wav({ data: [0, 64, 0, 64] })));
    expect([...(await source.read(-2, 5)).left]).toEqual([0, 0, 0.5, 0, 0]);
    expect([...(await source.read(50, 2)).left]).toEqual([0, 0]);
  });

  it.each<[string, Uint8Array, RefusalReason, RegExp]>([
    ['an empty file', new Uint8Array(0), 'empty', /empty/],
    ['text', new TextEncoder().encode('these are words, no audio'), 'not-audio', /not a WAV/],
    ['a truncated file', wav({ dataSize: 40 }), 'truncated', /announces 40 bytes.*4 are present \(10 %\)/],
    ['a header alone', wav({}).slice(0, 36), 'truncated', /before any audio/],
    ['audio of no length', wav({ data: [] }), 'empty', /0 samples/],
    [
      'six channels',
      wav({ channels: 6, data: new Array<number>(12).fill(0) }),
      'too-many-channels',
      /6 channels/,
    ],
    ['8 bits', wav({ bits: 8, data: [1, 2] }), 'unsupported-words', /8-bit samples aren’t supported; 16, 24/],
    ['a coded stream', wav({ tag: 0x55 }), 'unsupported-words', /coding number 85/],
    ['an odd rate', wav({ rate: 12_345 }), 'unsupported-rate', /12345 Hz/],
  ])('refuses %s with a sentence', async (_, bytes, reason, words) => {
    const error = await refusal(bytes);
    expect(error.reason).toBe(reason);
    expect(error.message).toMatch(words);
  });

  it('never fails otherwise than with a reason, whatever the bytes', async () => {
    const good = wav({ before: [['junk', [1, 2, 3]]], data: [1, 0, 2, 0] });
    await fc.assert(
      fc.asyncProperty(
        fc.array(fc.tuple(fc.nat(good.length - 1), fc.nat(255)), { maxLength: 6 }),
        fc.nat(good.length),
        async (changes, cut) => {
          const bytes = good.slice(0, cut);
          for (const [at, value] of changes) if (at < bytes.length) bytes[at] = value;
          const outcome: unknown = await readWavInfo(memorySource(bytes)).catch((error: unknown) => error);
          if (outcome instanceof Error) expect(outcome).toBeInstanceOf(AudioRefused);
        },
      ),
    );
  });
});

describe('writing WAV', () => {
  it('lays the plain header out as the standard has it', () => {
    const hex = Array.from(wavHeader('int16', 44_100, 3), (byte) => byte.toString(16).padStart(2, '0')).join(
      '',
    );
    // RIFF, 4+24+8+12 = 48 bytes to follow, 16-byte fmt: PCM, 2 channels, 44100 Hz, 176400 B/s, 4 bytes, 16 bits, 12 bytes of data
    expect(hex).toBe(
      '5249464630000000574156' + '45666d7420100000000100020044ac000010b10200040010006461746' + '10c000000',
    );
  });

  it('becomes RF64 where 32 bits no longer hold the length, and reads it back', async () => {
    const length = 1_100_000_000;
    const header = wavHeader('int16', 44_100, length);
    const endless: ByteSource = {
      size: header.length + length * 4,
      read: (offset, count) => Promise.resolve(header.slice(offset, offset + count)),
    };
    expect(await readWavInfo(endless)).toMatchObject({
      container: 'RF64',
      length,
      dataOffset: header.length,
    });
    expect(String.fromCharCode(...wavHeader('int16', 44_100, 1_000_000_000).slice(0, 4))).toBe('RIFF');
  });

  it.each<WordFormat>(['int16', 'int24', 'int32', 'float32'])(
    'of %s gives back what was written',
    async (format) => {
      const block: Block = { left: Float64Array.of(0.5, -0.25, 0), right: Float64Array.of(-1, 0.125, 0.75) };
      const sink = new MemorySink();
      const writer = await WavWriter.begin(sink, format, 48_000, 3);
      await writer.write(encodeWords(block, format));
      writer.finish();
      const source = await openWav(memorySource(sink.bytes()));
      expect(source).toMatchObject({ rate: 48_000, format, length: 3 });
      expect(await source.read(0, 3)).toEqual(block);
    },
  );

  it('notices a length that does not match', async () => {
    const writer = await WavWriter.begin(new MemorySink(), 'int16', 44_100, 3);
    expect(() => writer.finish()).toThrow('12 bytes');
  });
});
