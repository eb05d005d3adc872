import { createTranslator } from '@oiseau/messages';
import { type Album, deliverableSchema } from '@oiseau/album/model';
import { layOutAlbum } from '@oiseau/album/layout';
import { type Block, type PcmSource, ByteReader, memorySource, MemorySink, openWav } from '@oiseau/audio/pcm';
import { planDeliverable } from './kinds/kinds.js';
import type { Plan } from './planned.js';
import type { RenderPorts } from './ports.js';
import { proveRender } from './proof.js';
import type { Proof } from './proof-file.js';
import { renderPlan } from './render.js';
import type { RenderInput } from './render-input.js';

/** Rendering into memory, for tests; nothing in the product imports this. */

/** A hash that is good enough to tell two streams apart in a test. */
function tinyHash(): ReturnType<RenderPorts['crc32']> {
  let state = 0;
  return {
    update: (bytes) => {
      for (const byte of bytes) state = (Math.imul(state ^ byte, 0x01000193) + 1) | 0;
    },
    digest: () => (state >>> 0).toString(16),
  };
}

/** LIST INFO of a WAV file whose form and bext stand before it, under the names that FFmpeg gives them. */
function infoOf(wav: Uint8Array): Record<string, string> {
  const names: Record<string, string> = {
    ...{ INAM: 'TITLE', IART: 'ARTIST', IPRD: 'ALBUM', ITRK: 'TRACK', ICRD: 'DATE', IGNR: 'GENRE' },
    ...{ ICOP: 'COPYRIGHT', ICMT: 'COMMENT', IMUS: 'IMUS' },
  };
  const found: Record<string, string> = {};
  const list = indexOf(wav, 'LIST');
  if (list < 0) return found;
  const reader = new ByteReader(wav);
  reader.position = list + 4;
  const end = reader.u32() + reader.position;
  reader.fourCC();
  while (reader.position < end) {
    const name = names[reader.fourCC()] ?? '';
    const size = reader.u32();
    found[name] = new TextDecoder().decode(reader.take(size - 1));
    reader.position += 1 + (size % 2);
  }
  return found;
}

/** Where four characters stand in the first bytes of a file, or −1. */
function indexOf(bytes: Uint8Array, word: string): number {
  for (let at = 0; at < Math.min(bytes.length, 4096); at++)
    if ([...word].every((letter, i) => bytes[at + i] === letter.charCodeAt(0))) return at;
  return -1;
}

/** A folder of files in memory; it has no encoders, and a decoder that tells no more than the tags of a WAV file. */
export class MemoryFolder implements RenderPorts {
  readonly files = new Map<string, MemorySink>();
  made = () => Promise.resolve({ oiseau: 'test', ffmpeg: null });
  createFile(path: string) {
    const sink = new MemorySink();
    this.files.set(path, sink);
    return Promise.resolve({
      write: (bytes: Uint8Array) => sink.write(bytes.slice()),
      close: () => Promise.resolve(),
      abort: () => undefined,
    });
  }
  bytes(path: string): Uint8Array {
    return this.files.get(path)?.bytes() ?? new Uint8Array();
  }
  openFile(path: string) {
    return Promise.resolve(memorySource(this.bytes(path)));
  }
  patch(path: string, at: number, bytes: Uint8Array) {
    const changed = this.bytes(path).slice();
    changed.set(bytes, at);
    const sink = new MemorySink();
    this.files.set(path, sink);
    return sink.write(changed);
  }
  prepend(): Promise<never> {
    return Promise.reject(new Error('nothing to put before in this test'));
  }
  encode(): Promise<never> {
    return Promise.reject(new Error('no encoder in this test'));
  }
  tag(): Promise<never> {
    return Promise.reject(new Error('no tags in this test'));
  }
  translator = (language: string) => Promise.resolve(createTranslator(language));

  paper(paper: object) {
    return Promise.resolve(new TextEncoder().encode(JSON.stringify(paper)));
  }
  decode(path: string) {
    const none = async function* (): AsyncGenerator<never> {
      yield* [];
    };
    return Promise.resolve({
      rate: 0,
      format: 'int16' as const,
      tags: infoOf(this.bytes(path)),
      hasPicture: false,
      chapters: [],
      words: none,
    });
  }
  crc32() {
    return tinyHash();
  }
  digest(path: string) {
    const hash = tinyHash();
    hash.update(this.bytes(path));
    return Promise.resolve(hash.digest());
  }
}

/**
 * The plan of a deliverable, and what it is rendered from.
 * @param sources one for every song, in order
 * @param others by the masters of alternates
 */
export function planFor(
  album: Album,
  sources: PcmSource[],
  deliverable: object,
  others: Readonly<Record<string, PcmSource>> = {},
): { plan: Plan; input: RenderInput } {
  const own = album.songs.map(({ region }, i) => [region.master, sources[i] as PcmSource] as const);
  const masters = new Map([...own, ...Object.entries(others)]);
  const parts = layOutAlbum(album, masters);
  const form = deliverableSchema.parse({ name: 'd', ...deliverable });
  return {
    plan: planDeliverable(form, { album, parts, masters, revision: 1, revisionDate: '2026-11-09' }),
    input: { parts, masters, cover: null },
  };
}

/** Renders a deliverable of an album and proves it; takes what `planFor` takes. */
export async function render(
  ...given: Parameters<typeof planFor>
): Promise<{ folder: MemoryFolder; proof: Proof; plan: Plan }> {
  const { plan, input } = planFor(...given);
  const folder = new MemoryFolder();
  const { plan: made, written } = await renderPlan(plan, input, folder, () => undefined);
  return { folder, plan: made, proof: await proveRender(made, written, 1, false, folder, () => undefined) };
}
/** The name of the n-th master in an album. */
export const master = (n: number): string => n.toString(16).padStart(64, '0');
/** The audio of a WAV file. */
export const readAll = async (folder: MemoryFolder, path: string): Promise<Block> => {
  const wav = await openWav(memorySource(folder.bytes(path)));
  return wav.read(0, wav.length);
};
