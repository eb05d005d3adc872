import { execFileSync } from 'node:child_process';
import { mkdtemp, readdir, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { deliverableSchema, newAlbum, newSong, type Album } from '@oiseau/album/model';
import { layOutAlbum } from '@oiseau/album/layout';
import { planDeliverable, type Proof } from '@oiseau/render';
import { openWav, readEmbeddedWords, WORD_BYTES, type PcmSource, type WordFormat } from '@oiseau/audio/pcm';
import { readDdp } from '@oiseau/formats/disc';
import { CODING_FILES, type Coding, type EncoderOrder } from '@oiseau/codings';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { encode } from './encode.js';
import { FileByteSource } from './file-source.js';
import { withDdpFolder } from './ddp-folder.js';
import { decodeFile, embeddedCover, prepareMaster, renderToFolder } from './index.js';

let folder: string;
let cover: Awaited<ReturnType<typeof embeddedCover>>;
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'oiseau-formats-'));
  const picture = join(folder, 'cover.png');
  await sharp({ create: { width: 1600, height: 1600, channels: 3, background: '#286090' } })
    .png()
    .toFile(picture);
  cover = await embeddedCover(picture);
});
afterAll(() => rm(folder, { recursive: true, force: true }));

/** Strokes that swell and die away at uneven moments, so that a shift in time can be heard and seen. */
function strokes(rate: number, seconds: number, format: WordFormat, level = 0.5): PcmSource {
  const words = Float64Array.from({ length: Math.round(rate * seconds) }, (_, n) => {
    const t = n / rate;
    const beat = (t * 1.7) % 1;
    const value = level * Math.exp(-4 * beat) * Math.sin(2 * Math.PI * (220 + 30 * Math.floor(t * 1.7)) * t);
    return Math.round(value * 2 ** 23) / 2 ** 23;
  });
  return {
    rate,
    length: words.length,
    format,
    read: (start, count) => {
      const left = Float64Array.from({ length: count }, (_, i) => words[start + i] ?? 0);
      return Promise.resolve({ left, right: left.map((each) => each / 2) });
    },
  };
}

const masters = [strokes(48_000, 2.5, 'int24'), strokes(44_100, 3.25, 'int24', 0.99)];
/** A track of a disc lasts at least 4 s. */
const forDisc = [strokes(48_000, 4.5, 'int24'), strokes(44_100, 5.25, 'int24', 0.99)];
const album: Album = {
  ...newAlbum('Nine Tides'),
  performer: 'Marram Lamps',
  composer: 'Ada Marram',
  upc: '2012345678903',
  label: 'Low Light',
  catalogNumber: 'LL-7',
  genre: 'Folk',
  copyright: '2026 Low Light',
  phonogram: '2026 Low Light',
  comment: 'Recorded at low tide',
  releaseDate: '2026-11-09',
  artwork: 'cover',
  tags: { MOOD: 'calm' },
  songs: ['Lamp Lit', '潮 & “é”'].map((title, i) => ({
    ...newSong(`t${i}`, `m${i}`, title),
    isrc: `ZZOIS260000${i}`,
    lyricist: 'Ivo Sands',
    publisher: 'Dune Songs',
    arranger: 'The Lamps',
    advisory: i === 0 ? ('explicit' as const) : ('' as const),
  })),
};

async function render(
  name: string,
  settings: object,
  sources = masters,
): Promise<{ proof: Proof; target: string }> {
  const byKey = new Map(sources.map((each, i) => [`m${i}`, each]));
  const parts = layOutAlbum(album, byKey);
  const deliverable = deliverableSchema.parse({ name, ...settings });
  const plan = planDeliverable(deliverable, {
    album,
    parts,
    masters: byKey,
    revision: 3,
    revisionDate: '2026-11-20',
  });
  const target = join(folder, name);
  await rm(target, { recursive: true, force: true });
  const input = { parts, masters: byKey, cover };
  return { proof: await renderToFolder(plan, input, 3, target, () => undefined), target };
}

/** What was not as it should be, to be read in a failure. */
const faults = ({ files }: Proof): unknown[] =>
  files.flatMap(({ path, tests }) =>
    tests.filter(({ passed }) => !passed).map((test) => ({ path, ...test })),
  );

const TRACKS: [string, object][] = [
  ['wav', { bits: 24 }],
  ['wav', { bits: 'float' }],
  ['aiff', { bits: 24 }],
  ['aiff', { bits: 16 }],
  ['aiff', { bits: 'float' }],
  ['flac', { bits: 24 }],
  ['m4a', { codec: 'alac', bits: 16 }],
  ['m4a', { codec: 'alac', bits: 24 }],
  ['mp3', {}],
  ['mp3', { quality: 2 }],
  ['m4a', {}],
  ['opus', {}],
  ['ogg', {}],
];

describe.each(TRACKS)('%s %o', (format, settings) => {
  it('for each track is proved, with all of its tags and its cover', async () => {
    const { proof } = await render('tracks', { kind: 'tracks', format, ...settings });
    expect(faults(proof)).toEqual([]);
    expect(proof.proved).toBe(true);
    const ids = proof.files[0]?.tests.map(({ id }) => id);
    expect(ids).toContain('tags');
    expect(ids).toContain('cover');
  });
  it('for the whole album is proved, and the same each time', async () => {
    const sums = async (): Promise<unknown> => {
      const { proof, target } = await render('whole', { kind: 'continuous', format, ...settings });
      expect(faults(proof)).toEqual([]);
      expect((await readdir(target)).sort()).toEqual(
        ['SHA256SUMS', 'proof.json', 'whole.cue', `whole.${format}`].sort(),
      );
      return proof.files.map(({ sha256 }) => sha256);
    };
    expect(await sums()).toEqual(await sums());
  });
});

describe('tags, as FFmpeg reads them', () => {
  const reported = async (settings: object): Promise<Record<string, string>> => {
    const { target } = await render('read', { kind: 'tracks', pattern: '{number}', ...settings });
    const [name = ''] = await readdir(target);
    return { ...(await decodeFile(join(target, name))).tags };
  };
  it('MP3 has ID3v2.3 frames', async () => {
    expect(await reported({ format: 'mp3' })).toMatchObject({
      TITLE: 'Lamp Lit',
      ALBUM_ARTIST: 'Marram Lamps',
      TRACK: '1/2',
      DISC: '1/1',
      DATE: '2026-11-09',
      TSRC: 'ZZOIS2600000',
      BARCODE: '2012345678903',
      PUBLISHER: 'Low Light',
      COMMENT: 'Recorded at low tide',
      MOOD: 'calm',
    });
    const head = await readFile(join(folder, 'read', '01.mp3'));
    expect(head.subarray(0, 4).toString('latin1')).toBe('ID3\u0003');
  });
  it('M4A has the items of MP4, others in a free form', async () => {
    expect(await reported({ format: 'm4a' })).toMatchObject({
      TITLE: 'Lamp Lit',
      TRACK: '1/2',
      ISRC: 'ZZOIS2600000',
      LYRICIST: 'Ivo Sands',
      LABEL: 'Low Light',
      RATING: '1',
      MOOD: 'calm',
    });
  });
  it.each(['flac', 'opus', 'ogg'])('%s has Vorbis comments under their own names', async (format) => {
    expect(await reported({ format })).toMatchObject({
      TITLE: 'Lamp Lit',
      TRACKTOTAL: '2',
      ISRC: 'ZZOIS2600000',
      PUBLISHER: 'Dune Songs',
      COMMENT: 'Recorded at low tide',
      ADVISORY: 'explicit',
    });
  });
  it('WAV has LIST INFO and bext', async () => {
    expect(await reported({ format: 'wav' })).toMatchObject({
      TITLE: 'Lamp Lit',
      ARTIST: 'Marram Lamps',
      DATE: '2026-11-09',
    });
  });
});

const CHAPTERED: [string, object][] = [
  ['mp3', {}],
  ['mp3', { id3: 2.4 }],
  ['aiff', {}],
  ['m4a', {}],
  ['m4a', { codec: 'alac', bits: 16 }],
  ['opus', {}],
  ['ogg', {}],
];
describe.each(CHAPTERED)('a continuous file in %s %o', (format, settings) => {
  it('has its chapters to the millisecond, as FFprobe reads them', async () => {
    const { target } = await render('chapters', { kind: 'continuous', format, rate: 48_000, ...settings });
    const { chapters } = await decodeFile(join(target, `chapters.${format}`));
    expect(chapters.map(({ title }) => title)).toEqual(['Lamp Lit', '潮 & “é”']);
    expect(chapters[0]?.start).toBe(0);
    // Song 1 lasts 2.5 s and a gap of 2 s follows; the mark is rounded down to a CD frame: 337 / 75.
    expect(chapters[1]?.start).toBeCloseTo(337 / 75, 3);
  });
});

describe('loudness in tags', () => {
  let plain: Proof;
  beforeAll(async () => {
    ({ proof: plain } = await render('plainly', { kind: 'tracks', format: 'flac', bits: 24 }));
  });

  const readWords = async (path: string) => {
    const bytes = await FileByteSource.open(path);
    const words = await readEmbeddedWords(bytes, (await openWav(bytes)).info);
    await bytes.close();
    return words.tags;
  };
  const tagsOf = async (settings: { format: string }): Promise<Record<string, string>> => {
    const { proof, target } = await render('loud', {
      kind: 'tracks',
      loudnessTags: true,
      pattern: '{number}',
      ...settings,
    });
    expect(faults(proof)).toEqual([]);
    const name = (await readdir(target)).find((each) => each.startsWith('01')) ?? '';
    // FFmpeg leaves ID3 aside where a file has LIST INFO as well.
    if (settings.format === 'wav') return { ...(await readWords(join(target, name))) };
    return { ...(await decodeFile(join(target, name))).tags };
  };
  it.each(['flac', 'mp3', 'm4a', 'ogg', 'aiff', 'wav'])(
    '%s has ReplayGain 2.0 against −18 LUFS',
    async (format) => {
      const tags = await tagsOf({ format });
      const lufs = plain.files[0]?.integratedLufs ?? NaN;
      const gain = /^(-?\d+\.\d\d) dB$/.exec(tags.REPLAYGAIN_TRACK_GAIN ?? '')?.[1];
      expect(Number(gain)).toBeCloseTo(-18 - lufs, 1);
      const peak = plain.files[0]?.truePeakDbtp ?? NaN;
      expect(20 * Math.log10(Number(tags.REPLAYGAIN_TRACK_PEAK))).toBeCloseTo(peak, 1);
      expect(tags.REPLAYGAIN_ALBUM_GAIN).toMatch(/^-?\d+\.\d\d dB$/);
    },
  );
  it('Opus has gains of R 128 against −23 LUFS in 256ths of a decibel instead', async () => {
    const tags = await tagsOf({ format: 'opus' });
    const lufs = plain.files[0]?.integratedLufs ?? NaN;
    expect(Number(tags.R128_TRACK_GAIN) / 256).toBeCloseTo(-23 - lufs, 1);
    expect(tags).not.toHaveProperty('REPLAYGAIN_TRACK_GAIN');
  });
});

describe('what Oiseau wrote comes back', () => {
  it.each([
    ['wav', {}],
    ['aiff', {}],
    ['aiff', { id3: 2.4 }],
  ] as const)('%s %o with all its words and its cover', async (format, settings) => {
    const { target } = await render('back', { kind: 'tracks', format, pattern: '{number}', ...settings });
    const path = join(target, `01.${format}`);
    const scratch = join(folder, `scratch-${format}`);
    const { text, cover: found } = await prepareMaster(path, false, scratch);
    expect(text.fields).toEqual({
      title: 'Lamp Lit',
      performer: 'Marram Lamps',
      album: album.title,
      albumPerformer: 'Marram Lamps',
      ...{ composer: 'Ada Marram', lyricist: 'Ivo Sands', arranger: 'The Lamps', publisher: 'Dune Songs' },
      ...{
        isrc: 'ZZOIS2600000',
        upc: '2012345678903',
        genre: 'Folk',
        label: 'Low Light',
        catalogNumber: 'LL-7',
      },
      ...{ releaseDate: '2026-11-09', copyright: '2026 Low Light', phonogram: '2026 Low Light' },
      ...{ language: 'eng', advisory: 'explicit', comment: 'Recorded at low tide' },
    });
    expect(found && (await readFile(found)).equals(Buffer.from(cover.bytes))).toBe(true);
  });
});

describe('the day of a revision', () => {
  it('stands in bext and in names, and is not the release’s', async () => {
    const { target } = await render('day', {
      kind: 'tracks',
      format: 'wav',
      pattern: '{number} {revisionDate}',
    });
    const head = await readFile(join(target, '01 2026-11-20.wav'));
    const at = head.indexOf('bext') + 8;
    expect(head.subarray(at + 320, at + 330).toString('latin1')).toBe('2026-11-20');
  });
});

describe('a disc image for a plant', () => {
  it('is proved, and md5sum finds its checksums right', async () => {
    const { proof, target } = await render('plant', { kind: 'ddp' }, forDisc);
    expect(faults(proof)).toEqual([]);
    expect((await readdir(target)).sort()).toEqual(
      ['CDTEXT.BIN', 'DDPID', 'DDPMS', 'IMAGE.DAT', 'MD5SUMS', 'PQDESCR', 'SHA256SUMS', 'proof.json'].sort(),
    );
    execFileSync('md5sum', ['-c', '--quiet', 'MD5SUMS'], { cwd: target });
    execFileSync('sha256sum', ['-c', '--quiet', '--strict', 'SHA256SUMS'], { cwd: target });
    const listed = (await readFile(join(target, 'SHA256SUMS'), 'utf8')).trim().split('\n');
    expect(listed.map((line) => line.slice(66)).sort()).toEqual(
      (await readdir(target)).filter((name) => !['SHA256SUMS', 'proof.json'].includes(name)).sort(),
    );
  });
  it('is told to be damaged when a byte of it changes', async () => {
    const { target } = await render('plant', { kind: 'ddp' }, forDisc);
    const bytes = await readFile(join(target, 'PQDESCR'));
    // The frames of the third packet: index 01 of track 1 no longer stands at 00:02:00 sharp.
    bytes.write('07', 2 * 64 + 14);
    await writeFile(join(target, 'PQDESCR'), bytes);
    const found = await withDdpFolder(target, readDdp);
    expect(found.problems).toEqual(['The checksum of PQDESCR differs from MD5SUMS.']);
  });
});

it('an encoder that can’t go on says so in one sentence', async () => {
  const sink = await encode(join(folder, 'no such folder', 'a.flac'), {
    ...{
      ...encoderOf('flac'),
      rate: 44_100,
      format: 'int16',
      bitrate: null,
      quality: null,
      headBytes: 0,
      chapters: [],
      length: 4,
    },
  });
  await expect(sink.close()).rejects.toThrow(/^FFmpeg failed to write FLAC \(status 1\): .*No such file/);
});

/** What an order for an encoder says of its coding. */
function encoderOf(coding: Coding): Pick<EncoderOrder, 'label' | 'encoder'> {
  const { encoder } = CODING_FILES[coding];
  if (!encoder) throw new RangeError(`no encoder of ${coding}`);
  return { label: coding.toUpperCase(), encoder };
}

describe('an MP3 file', () => {
  it('gives back exactly the samples that went in, whatever their number', async () => {
    // From one frame to the next in uneven steps, around the half frame by which a decoder is late.
    for (let extra = 0; extra < 1152; extra += 83) {
      const path = join(folder, `length ${extra}.mp3`);
      const length = 11_520 + extra;
      const sink = await encode(path, {
        ...{
          ...encoderOf('mp3'),
          rate: 44_100,
          format: 'float32',
          bitrate: 128,
          quality: null,
          headBytes: 0,
          chapters: [],
        },
        length,
      });
      await sink.write(new Uint8Array(new Float32Array(2 * length).fill(0.1).buffer));
      await sink.close();
      let found = 0;
      const stream = await decodeFile(path);
      for await (const words of stream.words()) found += words.length / (2 * WORD_BYTES[stream.format]);
      expect(found).toBe(length);
    }
  });
});

it('an overshoot of a lossy file is told with the gain that cures it', async () => {
  const { proof } = await render('loud', { kind: 'tracks', format: 'mp3', bitrate: 96, select: [2] });
  const [file] = proof.files;
  expect(file?.truePeakDbtp).toBeGreaterThan(-1);
  expect(file?.cureDb).toBeCloseTo(-1 - (file?.truePeakDbtp ?? 0), 6);
});
