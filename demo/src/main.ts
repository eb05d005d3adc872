import { readFile } from 'node:fs/promises';
import {
  encodeWords,
  newSong,
  secondsToTicks,
  wavHeader,
  type Album,
  type Block,
  type WordFormat,
} from '@oiseau/core';
import { Api } from './api.js';
import { carillon, nineTides, type Piece } from './pieces.js';

/** Makes the demo albums through the public API, as a person would in the browser: `demo ADDRESS FILE-OF-THE-KEY`. */
const [address = 'http://127.0.0.1:4680', keyFile = 'data/access-key'] = process.argv.slice(2);
const api = new Api(address, (await readFile(keyFile, 'utf8')).trim());

/** ISRC of the made-up registrant: ZZ is no country, OIS nobody. */
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

async function makeNineTides(): Promise<void> {
  const id = await api.createAlbum('Nine Tides');
  const songs: Album['songs'] = [];
  for (const [i, piece] of nineTides().entries()) {
    const master = await upload(id, piece);
    songs.push({
      ...newSong(`tide-${i + 1}`, master, piece.title, secondsToTicks(piece.gapSeconds)),
      isrc: isrc(i + 1),
    });
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
  });
}

async function makeCarillon(): Promise<void> {
  const id = await api.createAlbum('Carillon, Low Water');
  const piece = carillon();
  const master = await upload(id, piece);
  await api.editAlbum(id, { performer: 'Ebba Thole', songs: [newSong('recital', master, piece.title)] });
}

try {
  await makeCarillon();
  await makeNineTides();
} catch (error) {
  // Nothing half-made is left on the Shelf.
  await api.deleteCreated();
  console.error(error instanceof Error ? error.message : error);
  process.exitCode = 1;
}
