import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { readAiffInfo } from './aiff-read.js';
import { memorySource } from './bytes.js';
import { readEmbeddedText } from './embedded-text.js';
import { PcmFileSource } from './pcm-file.js';
import { AudioRefused, type RefusalReason } from './refusal.js';

const ascii = (text: string): number[] => [...text].map((character) => character.charCodeAt(0));
const be = (value: number, bytes: number): number[] =>
  Array.from({ length: bytes }, (_, i) => Math.floor(value / 256 ** (bytes - 1 - i)) % 256);
const chunk = (id: string, body: number[]): number[] => [
  ...ascii(id),
  ...be(body.length, 4),
  ...body,
  ...(body.length % 2 ? [0] : []),
];
/** 44,100 = 0xAC44 · 2^0: exponent 16383 + 15, mantissa 0xAC44 at the top [IEEE 754 extended]. */
const RATE_44100 = [0x40, 0x0e, 0xac, 0x44, 0, 0, 0, 0, 0, 0];
/** 96,000 = 0xBB80 · 2: exponent 16383 + 16. */
const RATE_96000 = [0x40, 0x0f, 0xbb, 0x80, 0, 0, 0, 0, 0, 0];

interface Recipe {
  channels?: number;
  frames?: number;
  bits?: number;
  rate?: number[];
  coding?: string;
  sound?: number[];
  extra?: number[];
}

function aiff({
  channels = 2,
  frames = 2,
  bits = 16,
  rate = RATE_44100,
  coding,
  sound = [0x40, 0, 0xc0, 0, 0x7f, 0xff, 0x80, 0],
  extra = [],
}: Recipe): Uint8Array {
  const common = [...be(channels, 2), ...be(frames, 4), ...be(bits, 2), ...rate];
  const body = [
    ...ascii(coding ? 'AIFC' : 'AIFF'),
    ...(coding ? chunk('FVER', be(0xa280_5140, 4)) : []),
    ...chunk('COMM', coding ? [...common, ...ascii(coding), 0, 0] : common),
    ...extra,
    ...chunk('SSND', [...be(0, 4), ...be(0, 4), ...sound]),
  ];
  return Uint8Array.from([...ascii('FORM'), ...be(body.length, 4), ...body]);
}

const open = async (bytes: Uint8Array): Promise<PcmFileSource> =>
  new PcmFileSource(await readAiffInfo(memorySource(bytes)), memorySource(bytes));

describe('AIFF', () => {
  it('holds big-endian words', async () => {
    const source = await open(aiff({}));
    expect(source.info).toMatchObject({
      container: 'AIFF',
      rate: 44_100,
      channels: 2,
      format: 'int16',
      length: 2,
    });
    const { left, right } = await source.read(0, 2);
    expect([...left, ...right]).toEqual([0.5, 32_767 / 32_768, -0.5, -1]);
  });

  it('reads 24 bit, 96 kHz, and 20 bits that lie in 24', async () => {
    // 0x400000 = 2^22 and 0xFFFFFE = −2, of 2^23
    const sound = [0x40, 0, 0, 0xff, 0xff, 0xfe];
    for (const bits of [24, 20]) {
      const source = await open(aiff({ bits, rate: RATE_96000, frames: 1, sound }));
      expect(source.info).toMatchObject({ rate: 96_000, format: 'int24', validBits: bits });
      const { left, right } = await source.read(0, 1);
      expect([left[0], right[0]]).toEqual([0.5, -2 / 8_388_608]);
    }
  });

  it.each([
    ['sowt', 16, [0, 0x40, 0, 0xc0], 'int16'],
    ['NONE', 16, [0x40, 0, 0xc0, 0], 'int16'],
    // 0.5 = 3F000000, −0.5 = BF000000
    ['fl32', 32, [0x3f, 0, 0, 0, 0xbf, 0, 0, 0], 'float32'],
    ['FL64', 64, [0x3f, 0xe0, 0, 0, 0, 0, 0, 0, 0xbf, 0xe0, 0, 0, 0, 0, 0, 0], 'float64'],
  ])('AIFC “%s” of %i bits is read', async (coding, bits, sound, format) => {
    const source = await open(aiff({ coding, bits, frames: 1, sound }));
    expect(source.info).toMatchObject({ container: 'AIFC', format });
    const { left, right } = await source.read(0, 1);
    expect([left[0], right[0]]).toEqual([0.5, -0.5]);
  });

  it('gives its words in the order of WAV, and one channel on both sides', async () => {
    // 16384 = 4000 and −16384 = C000; low byte first: 00 40 and 00 C0.
    const stereo = await open(aiff({}));
    expect([...(await stereo.words(0, 1))]).toEqual([0x00, 0x40, 0x00, 0xc0]);
    expect([...(await stereo.words(1, 1))]).toEqual([0xff, 0x7f, 0x00, 0x80]);
    const mono = await open(aiff({ channels: 1, frames: 2, sound: [0x12, 0x34, 0xff, 0xfe] }));
    expect([...(await mono.words(0, 2))]).toEqual([0x34, 0x12, 0x34, 0x12, 0xfe, 0xff, 0xfe, 0xff]);
  });

  it('refuses to make up words that are not there', async () => {
    const bytes = aiff({});
    const source = new PcmFileSource(
      await readAiffInfo(memorySource(bytes)),
      memorySource(bytes.subarray(0, bytes.length - 1)),
    );
    await expect(source.words(0, 2)).rejects.toThrow(
      'The audio ends early: 8 bytes expected at sample 0, 7 found.',
    );
  });

  it('reads its names and marks', async () => {
    const extra = [
      ...chunk('NAME', ascii('Lantern Oil')),
      ...chunk('AUTH', ascii('Marram Lamps')),
      // Mark 2 at sample 1, “B” (odd length + its count: even); mark 1 at sample 0, “AA” and a pad byte
      ...chunk('MARK', [
        ...be(2, 2),
        ...be(2, 2),
        ...be(1, 4),
        1,
        66,
        ...be(1, 2),
        ...be(0, 4),
        2,
        65,
        65,
        0,
      ]),
    ];
    const bytes = aiff({ extra });
    const text = await readEmbeddedText(memorySource(bytes), await readAiffInfo(memorySource(bytes)));
    expect(text).toEqual({
      fields: { title: 'Lantern Oil', performer: 'Marram Lamps' },
      cues: [
        { at: 0, name: 'AA' },
        { at: 1, name: 'B' },
      ],
    });
  });

  it.each<[string, Uint8Array, RefusalReason, RegExp]>([
    ['another file', Uint8Array.from(ascii('only words in here')), 'not-audio', /does not begin with FORM/],
    [
      'no COMM',
      Uint8Array.from([...ascii('FORM'), ...be(4, 4), ...ascii('AIFF')]),
      'damaged-header',
      /“COMM”/,
    ],
    ['no sound', aiff({}).subarray(0, 38), 'truncated', /no “SSND”/],
    ['a cut end', aiff({}).subarray(0, -2), 'truncated', /announces 8 bytes of audio, 6/],
    ['a coding', aiff({ coding: 'ima4' }), 'unsupported-words', /“ima4”/],
    ['8 bits', aiff({ bits: 8 }), 'unsupported-words', /8-bit samples/],
    ['6 channels', aiff({ channels: 6 }), 'too-many-channels', /6 channels/],
    ['an odd rate', aiff({ rate: [0x40, 0x0b, 0xfa, 0, 0, 0, 0, 0, 0, 0] }), 'unsupported-rate', /8000 Hz/],
    [
      'no rate',
      aiff({ rate: Array.from({ length: 10 }, () => 0xff) }),
      'damaged-header',
      /rate isn’t a number/,
    ],
    ['nothing in it', aiff({ frames: 0 }), 'empty', /0 samples/],
  ])('refuses %s', async (_, bytes, reason, words) => {
    const caught: unknown = await readAiffInfo(memorySource(bytes)).catch((error: unknown) => error);
    expect(caught).toBeInstanceOf(AudioRefused);
    expect((caught as AudioRefused).reason).toBe(reason);
    expect((caught as AudioRefused).message).toMatch(words);
  });

  it('never fails otherwise than with a reason, whatever the bytes', async () => {
    const whole = aiff({ extra: chunk('MARK', [0, 9, 0, 1]) });
    await fc.assert(
      fc.asyncProperty(
        fc.array(fc.tuple(fc.nat(whole.length - 1), fc.nat(255)), { maxLength: 6 }),
        fc.nat(whole.length),
        async (changes, cut) => {
          const bytes = whole.slice(0, cut);
          for (const [at, value] of changes) if (at < cut) bytes[at] = value;
          try {
            await readEmbeddedText(memorySource(bytes), await readAiffInfo(memorySource(bytes)));
          } catch (error) {
            expect(error).toBeInstanceOf(AudioRefused);
          }
        },
      ),
    );
  });
});
