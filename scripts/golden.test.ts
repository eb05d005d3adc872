import { mkdtemp, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { createHash } from 'node:crypto';
import { deliverableSchema, newAlbum, newSong, type Album } from '@oiseau/album/model';
import { layOutAlbum } from '@oiseau/album/layout';
import { encodeWords, openWav, PcmFileSource, wavHeader, type PcmSource } from '@oiseau/audio/pcm';
import { planDeliverable } from '@oiseau/render';
import { secondsToTicks } from '@oiseau/audio/time';
import { embeddedCover, renderToFolder, versionsHere } from '@oiseau/host';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { nineTides } from '../demo/src/pieces.js';

/*
 * The sums of the demo, five seconds of the first songs, at every form. A change of code that changes a byte of a render fails here: either it was
 * not meant to, or CHANGELOG.md says why, and `OISEAU_GOLDEN=write npx vitest run scripts/golden.test.ts` notes the new sums.
 */

interface Golden {
  /** The Node.js that computed the demo's sines. */
  readonly node: string;
  /** Sums of the words of the masters. */
  readonly masters: Record<string, string>;
  /** Sums of what needs no encoder of others, by deliverable and path. */
  readonly plain: Record<string, Record<string, string>>;
  /** Sums of what FFmpeg codes, by its version. */
  readonly coded: Record<string, Record<string, Record<string, string>>>;
}

const FILE = new URL('golden.json', import.meta.url);
const WRITES = process.env.OISEAU_GOLDEN === 'write';
const SECONDS = 5;
/** Together they have every rate and word of the demo. */
const SONGS = 4;

const PLAIN: Record<string, object> = {
  plant: { kind: 'ddp' },
  'image, WAV': { kind: 'cue', audio: 'wav' },
  'image, raw words': { kind: 'cue', audio: 'bin' },
  'image, triangular dither': { kind: 'cue', dither: 'triangular' },
  'WAV 16': { kind: 'tracks', format: 'wav', bits: 16 },
  'WAV 24 at 96 kHz': { kind: 'tracks', format: 'wav', bits: 24, rate: 96_000 },
  'WAV float': { kind: 'tracks', format: 'wav', bits: 'float' },
  'AIFF 24': { kind: 'tracks', format: 'aiff', bits: 24 },
};
const CODED: Record<string, object> = {
  'FLAC 16': { kind: 'tracks', format: 'flac', bits: 16 },
  'FLAC 24': { kind: 'tracks', format: 'flac', bits: 24 },
  'one FLAC': { kind: 'continuous', format: 'flac' },
  ALAC: { kind: 'tracks', format: 'm4a', codec: 'alac', bits: 24 },
  'MP3 320': { kind: 'tracks', format: 'mp3' },
  'MP3 V2': { kind: 'tracks', format: 'mp3', quality: 2 },
  AAC: { kind: 'tracks', format: 'm4a' },
  Opus: { kind: 'tracks', format: 'opus' },
  Vorbis: { kind: 'tracks', format: 'ogg' },
};

let folder: string;
let golden: Golden;
const masters = new Map<string, PcmSource>();
const sums: Record<string, string> = {};
let album: Album;
let cover: Awaited<ReturnType<typeof embeddedCover>>;

beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'oiseau-golden-'));
  golden = JSON.parse(await readFile(FILE, 'utf8')) as Golden;
  cover = await embeddedCover(new URL('golden-cover.png', import.meta.url).pathname);
  const songs: Album['songs'] = [];
  for (const [i, { file, title, rate, format, gapSeconds, make }] of nineTides().slice(0, SONGS).entries()) {
    const whole = make();
    const [left, right] = [whole.left, whole.right].map((side) => side.slice(0, SECONDS * rate));
    if (!left || !right) throw new Error(`${file} has no sound.`);
    const words = encodeWords({ left, right }, format);
    sums[file] = sum(words);
    const bytes = Buffer.concat([wavHeader(format, rate, left.length), words]);
    const wav = {
      size: bytes.length,
      read: (at: number, count: number) => Promise.resolve(bytes.subarray(at, at + count)),
    };
    masters.set(file, new PcmFileSource((await openWav(wav)).info, wav));
    const song = newSong(`tide-${i + 1}`, file, title, secondsToTicks(gapSeconds));
    songs.push({ ...song, isrc: `ZZOIS26${String(i + 1).padStart(5, '0')}` });
  }
  album = {
    ...newAlbum('Nine Tides'),
    ...{ performer: 'Marram Lamps', upc: '2026110900014', label: 'Low Light', catalogNumber: 'LL-009' },
    ...{ genre: 'Chamber', releaseDate: '2026-11-09', copyright: '2026 Marram Lamps', artwork: 'cover' },
    songs,
  };
}, 120_000);
afterAll(() => rm(folder, { recursive: true, force: true }));

const sum = (bytes: Uint8Array): string => createHash('sha256').update(bytes).digest('hex');

/** Renders the demo by some settings, and gives the sum of each file. */
async function render(name: string, settings: object): Promise<Record<string, string>> {
  const parts = layOutAlbum(album, masters);
  const deliverable = deliverableSchema.parse({ name, ...settings });
  const plan = planDeliverable(deliverable, {
    album,
    parts,
    masters,
    revision: 1,
    revisionDate: '2026-11-20',
  });
  const proof = await renderToFolder(plan, { parts, masters, cover }, 1, join(folder, name), () => undefined);
  expect(proof.proved).toBe(true);
  return Object.fromEntries(proof.files.map(({ path, sha256 }) => [path, sha256]));
}

const sameNode = (): boolean => golden.node === process.versions.node.split('.')[0];

describe.skipIf(WRITES)('the demo at every form', () => {
  it('sounds as it did', (context) => {
    // Another V8 may compute the last bit of a sine otherwise.
    context.skip(!sameNode(), 'the sums were noted with another Node.js');
    expect(sums).toEqual(golden.masters);
  });

  it.each(Object.entries(PLAIN))('has the bytes that it had: %s', async (name, settings) => {
    const made = await render(name, settings);
    if (sameNode()) expect(made).toEqual(golden.plain[name]);
  });

  it.each(Object.entries(CODED))('has the bytes that it had: %s', async (name, settings) => {
    const made = await render(name, settings);
    const noted = golden.coded[(await versionsHere()).ffmpeg ?? ''];
    if (sameNode() && noted) expect(made).toEqual(noted[name]);
  });
});

it.runIf(WRITES)(
  'notes the sums',
  async () => {
    const all = async (forms: Record<string, object>): Promise<Record<string, Record<string, string>>> => {
      const made: Record<string, Record<string, string>> = {};
      for (const [name, settings] of Object.entries(forms)) made[name] = await render(name, settings);
      return made;
    };
    const plain = await all(PLAIN);
    const coded = { ...golden.coded, [(await versionsHere()).ffmpeg ?? '']: await all(CODED) };
    const node = process.versions.node.split('.')[0] ?? '';
    await writeFile(
      FILE,
      `${JSON.stringify({ node, masters: sums, plain, coded } satisfies Golden, null, 2)}\n`,
    );
  },
  300_000,
);
