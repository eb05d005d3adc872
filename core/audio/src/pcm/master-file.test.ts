import { describe, expect, it } from 'vitest';
import { fieldsFromTags } from './embedded-tags.js';
import { demandFinite } from './finite.js';
import { memorySource } from './bytes.js';
import { demandMasterName, examineMaster, isMasterName } from './master-file.js';
import { admitPcm, pcmFileBytes, PcmFileSource, type DeclaredPcm, type PcmInfo } from './pcm-file.js';
import { AudioRefused } from './refusal.js';
import { wavHeader } from './wav-write.js';
import { encodeWords } from './words.js';

const refused = async (work: () => unknown): Promise<AudioRefused> => {
  try {
    await work();
  } catch (error) {
    if (error instanceof AudioRefused) return error;
    throw error;
  }
  throw new Error('not refused');
};
const ascii = (text: string): Uint8Array => Uint8Array.from(text, (character) => character.charCodeAt(0));

describe('a file that could be a master', () => {
  it('is known by its ending, in any case', () => {
    for (const name of ['a.wav', 'b.AIFF', 'c.Flac', 'd.mp3', 'e.m4a', 'f.opus', 'g.ogg', 'take 1.2.wav'])
      expect(isMasterName(name), name).toBe(true);
    for (const name of ['cover.jpg', 'wav', 'a.wav.txt', '.DS_Store', 'x/y.wav/z'])
      expect(isMasterName(name), name).toBe(false);
  });
  it('is named when it ends otherwise', async () => {
    expect((await refused(() => demandMasterName('notes.txt'))).message).toMatch(
      /^“\.txt” files aren’t supported\. Use WAV, AIFF/,
    );
    expect((await refused(() => demandMasterName('README'))).message).toMatch(/has no extension/);
  });

  const head = (...parts: (string | number[])[]): Uint8Array =>
    Uint8Array.from([
      ...parts.flatMap((part) => (typeof part === 'string' ? [...ascii(part)] : part)),
      ...new Array<number>(16).fill(0),
    ]);
  it.each([
    ['FLAC', 'flac', head('fLaC')],
    ['Ogg', 'ogg', head('OggS')],
    ['MPEG-4', 'mp4', head([0, 0, 0, 24], 'ftypM4A ')],
    ['MPEG audio behind a tag', 'mp3', head('ID3', [4, 0, 0, 0, 0, 0, 2], '..', [0xff, 0xfb, 0x90])],
    // 0x01 0x00 is 128: seven bits of each byte count.
    ['FLAC behind a long tag', 'flac', head('ID3', [4, 0, 0, 0, 0, 1, 0], 'x'.repeat(128), 'fLaC')],
    [
      'FLAC behind a tag with a footer',
      'flac',
      head('ID3', [4, 0, 0x10, 0, 0, 0, 2], '..', '3DI.......', 'fLaC'),
    ],
    [
      'AAC behind two tags',
      'aac',
      head('ID3', [4, 0, 0, 0, 0, 0, 0], 'ID3', [3, 0, 0, 0, 0, 0, 0], [0xff, 0xf9]),
    ],
    ['whatever is behind a tag', 'mp3', head('ID3', [4, 0, 0, 0, 0, 0, 0], '#EXTM3U')],
    ['bare MPEG audio', 'mp3', head([0xff, 0xfb, 0x90, 0x64])],
    ['AAC in ADTS', 'aac', head([0xff, 0xf1, 0x50])],
  ])('%s is left to its decoder, which is told that it is %s', async (_, form, bytes) => {
    expect(await examineMaster(memorySource(bytes), false)).toEqual({ kind: 'coded', form });
  });
  it('is none behind more tags than anybody writes', async () => {
    const tags = head(...Array.from({ length: 20 }, () => ['ID3', [4, 0, 0, 0, 0, 0, 0]]).flat(), 'fLaC');
    expect((await refused(() => examineMaster(memorySource(tags), false))).reason).toBe('not-audio');
  });
  it('is read by the core when it is WAV, and refused when it is anything else', async () => {
    const wav = Uint8Array.from([...wavHeader('int16', 44_100, 2), 1, 0, 2, 0, 3, 0, 4, 0]);
    expect(await examineMaster(memorySource(wav), false)).toMatchObject({ kind: 'pcm', info: { length: 2 } });
    expect(
      (await refused(() => examineMaster(memorySource(ascii('%PDF-1.7 and so on')), false))).reason,
    ).toBe('not-audio');
    expect((await refused(() => examineMaster(memorySource(new Uint8Array()), false))).reason).toBe('empty');
  });
  it('is taken with one channel only when the person agreed', async () => {
    const wav = Uint8Array.from([...wavHeader('int16', 44_100, 2), 1, 0, 2, 0, 3, 0, 4, 0]);
    const view = new DataView(wav.buffer);
    view.setUint16(22, 1, true);
    view.setUint16(32, 2, true);
    expect((await refused(() => examineMaster(memorySource(wav), false))).reason).toBe('mono');
    expect(await examineMaster(memorySource(wav), true)).toMatchObject({ info: { channels: 1, length: 4 } });
  });
});

describe('a header', () => {
  const declared: DeclaredPcm = {
    container: 'RIFF',
    rate: 48_000,
    channels: 2,
    format: 'int24',
    order: 'little',
    validBits: 20,
    dataOffset: 44,
    dataBytes: 600,
  };
  it('tells where the audio ends', () => {
    const info = admitPcm(declared, 644);
    expect(info).toMatchObject({ length: 100, validBits: 20 });
    expect(pcmFileBytes(info)).toBe(644);
  });
  it('may claim more valid bits than its words have, or none at all', () => {
    expect([64, 0].map((validBits) => admitPcm({ ...declared, validBits }, 644).validBits)).toEqual([24, 24]);
  });
  it('is held against the file', async () => {
    expect((await refused(() => admitPcm(declared, 344))).message).toContain(
      'announces 600 bytes of audio, 300 are present (50 %)',
    );
    expect((await refused(() => admitPcm({ ...declared, dataBytes: 5 }, 644))).reason).toBe('empty');
  });
});

describe('float words', () => {
  const source = (values: number[], format: 'float32' | 'int16' = 'float32'): PcmFileSource => {
    const left = Float64Array.from(values);
    const bytes = encodeWords({ left, right: left }, format);
    const info: PcmInfo = {
      ...{ container: 'RIFF', rate: 10, channels: 2, format, order: 'little', validBits: 32, dataOffset: 0 },
      length: values.length,
    };
    return new PcmFileSource(info, memorySource(bytes));
  };
  it('may be any number, over full scale as well', async () => {
    await demandFinite(source([0, -3.5, 1e-30, 0.1]));
  });
  it.each([NaN, Infinity, -Infinity])('may not be %f', async (value) => {
    // The third sample at 10 Hz: 0.2 s
    const { message, reason } = await refused(() => demandFinite(source([0, 1, value, 0])));
    expect([message, reason]).toEqual([
      'The file is damaged: the sample at 0.200 s isn’t a number.',
      'damaged-audio',
    ]);
  });
});

describe('tags of a coded file', () => {
  it('are told by what they mean, whatever the container calls them', () => {
    expect(
      fieldsFromTags({
        TITLE: ' Ebb ',
        TSRC: 'ZZOIS2600001',
        PUBLISHER: 'Low Light',
        ENCODER: 'x',
        ALBUM: '',
      }),
    ).toEqual({
      title: 'Ebb',
      isrc: 'ZZOIS2600001',
      label: 'Low Light',
    });
    expect(fieldsFromTags({ ARTIST: 'a', PERFORMER: 'b', ISRC: 'one', TSRC: 'two' })).toEqual({
      performer: 'a',
      isrc: 'one',
    });
  });
});
