import { readFile } from 'node:fs/promises';
import { deliverableSchema, newEdition, newSong, type Album, type Region } from '@oiseau/album/model';
import { encodeWords, wavHeader, type Block, type WordFormat } from '@oiseau/audio/pcm';
import { NO_ALBUM_TREATMENT, NO_TREATMENT } from '@oiseau/audio/stages';
import { secondsToTicks, ticks } from '@oiseau/audio/time';
import { Api } from './api.js';
import { carillon, nineTides, type Piece } from './pieces.js';
import { twoSides } from './sides.js';

/** Makes the demo albums through the public API, as a person would in the browser: `demo ADDRESS FILE-OF-THE-KEY`. */
const [address = 'http://127.0.0.1:4680', keyFile = 'data/access-key'] = process.argv.slice(2);
const api = new Api(address, (await readFile(keyFile, 'utf8')).trim());

/** ISRC of the made-up registrant: neither ZZ nor OIS is assigned. */
const isrc = (number: number): string => `ZZOIS26${String(number).padStart(5, '0')}`;

function wavFile(audio: Block, rate: number, format: WordFormat): Uint8Array<ArrayBuffer> {
  const header = wavHeader(format, rate, audio.left.length);
  const words = encodeWords(audio, format);
  const file = new Uint8Array(header.length + words.length);
  file.set(header);
  file.set(words, header.length);
  return file;
}

async function upload(albumId: string, piece: Piece): Promise<string> {
  return api.uploadMaster(albumId, piece.file, wavFile(piece.make(), piece.rate, piece.format));
}

async function cover(name: string): Promise<string> {
  return api.uploadPicture(name, await readFile(new URL(`../demo/covers/${name}`, import.meta.url)));
}

/** What is done to songs that stand out. */
const HANDLED: Readonly<Record<string, Partial<Region>>> = {
  // The too loud one, tamed: down to the others, and its hard edge with it.
  'Keeper’s Round': {
    gainDb: -5,
    sound: {
      ...NO_TREATMENT,
      equaliser: [
        { kind: 'bell', hz: 2600, db: -2.5, q: 0.9 },
        { kind: 'high-shelf', hz: 9000, db: 1.5, q: 0.7 },
      ],
    },
  },
  // One that opens as it goes on.
  'Slack Water': {
    sound: {
      ...NO_TREATMENT,
      equaliser: [
        {
          kind: 'high-shelf',
          hz: 3500,
          db: [
            { at: 8, db: -3 },
            { at: 24, db: 3 },
          ],
          q: 0.7,
        },
      ],
    },
  },
};

async function makeNineTides(): Promise<void> {
  const id = await api.createAlbum('Nine Tides');
  const songs: Album['songs'] = [];
  for (const [i, piece] of nineTides().entries()) {
    const master = await upload(id, piece);
    const song = newSong(`tide-${i + 1}`, master, piece.title, secondsToTicks(piece.gapSeconds));
    songs.push({ ...song, region: { ...song.region, ...HANDLED[piece.title] }, isrc: isrc(i + 1) });
  }
  await api.editAlbum(id, {
    performer: 'Marram Lamps',
    upc: '2026110900014',
    label: 'Low Light',
    catalogNumber: 'LL-009',
    genre: 'Chamber',
    releaseDate: '2026-11-09',
    copyright: '2026 Marram Lamps',
    phonogram: '2026 Low Light',
    artwork: await cover('nine-tides.png'),
    songs,
    deliverables: [
      deliverableSchema.parse({ name: 'image', kind: 'cue', audio: 'wav' }),
      deliverableSchema.parse({ name: 'plant', kind: 'ddp', dither: 'shaped' }),
      deliverableSchema.parse({ name: 'shop', kind: 'package' }),
      deliverableSchema.parse({ name: 'files', kind: 'tracks', format: 'flac', bits: 24 }),
      deliverableSchema.parse({ name: 'lathe', kind: 'cutting-room', edition: 'LP' }),
    ],
    editions: tidesEditions(),
    // The record as a whole, with room for encoders: what it takes off the attacks can be heard.
    sound: { ...NO_ALBUM_TREATMENT, limiter: { drive: 5, ceiling: -1, release: 120 } },
  });
}

const tides = (...numbers: readonly number[]): string[] => numbers.map((number) => `tide-${number}`);

/** The disc; a record in another order without the limiter, two of its transitions still to be heard; and an order under debate. */
function tidesEditions(): Album['editions'] {
  const side = (first: string) => ({
    ...{ medium: 'vinyl-12-33' as const, first, title: '', upc: '', limit: null },
  });
  const lp = {
    name: 'LP',
    order: tides(1, 2, 4, 3, 5, 6, 7, 8, 9),
    parts: [side('tide-1'), side('tide-6')],
    sound: { limiter: null },
    tracks: { 'tide-4': { gapBefore: secondsToTicks(1.2) } },
    ...{ upc: '2026110900021', catalogNumber: 'LL-009-LP' },
  };
  const fogFirst = { name: 'Fog first', draft: true, order: tides(8, 1, 2, 3, 4, 5, 6, 7, 9) };
  return [newEdition('CD'), { ...newEdition(lp.name), ...lp }, { ...newEdition(fogFirst.name), ...fogFirst }];
}

async function makeCarillon(): Promise<void> {
  const id = await api.createAlbum('Carillon, Low Water');
  const piece = carillon();
  const master = await upload(id, piece);
  await api.editAlbum(id, { performer: 'Ebba Thole', songs: [newSong('recital', master, piece.title)] });
}

/** A record with two sides, and the instrumentals of three songs. */
async function makeTwoSides(): Promise<void> {
  const id = await api.createAlbum('Stair of Salt');
  const songs: Album['songs'] = [];
  for (const [i, piece] of twoSides().entries()) {
    const master = await upload(id, piece);
    const { instrumental } = piece;
    const other = instrumental && (await upload(id, { ...piece, ...instrumental }));
    songs.push({
      ...newSong(`salt-${i + 1}`, master, piece.title, secondsToTicks(piece.gapSeconds)),
      ...(other ? { alternates: { instrumental: { master: other, shift: ticks(0) } } } : {}),
      isrc: isrc(100 + i),
    });
  }
  const side = (first: string) => ({ medium: 'vinyl-7-45' as const, first, title: '', upc: '', limit: null });
  await api.editAlbum(id, {
    ...{ performer: 'Marram Lamps', label: 'Low Light', catalogNumber: 'LL-010', genre: 'Chamber' },
    ...{ releaseDate: '2026-11-23', copyright: '2026 Marram Lamps', phonogram: '2026 Low Light' },
    songs,
    parts: [side('salt-1'), side('salt-4')],
    deliverables: [
      deliverableSchema.parse({ name: 'lathe', kind: 'cutting-room' }),
      deliverableSchema.parse({
        ...{ name: 'files', kind: 'tracks', format: 'flac', bits: 24 },
        ...{ alternates: ['main', 'instrumental'], pattern: '{position} {title}' },
      }),
    ],
  });
}

try {
  await makeTwoSides();
  await makeCarillon();
  await makeNineTides();
} catch (error) {
  // Nothing half-made is left on the Shelf.
  await api.deleteCreated();
  console.error(error instanceof Error ? error.message : error);
  process.exitCode = 1;
}
