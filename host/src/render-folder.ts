import { open, readdir, rm, writeFile } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import {
  audioFiles,
  Proving,
  renderPlan,
  type Plan,
  type Proof,
  type RenderInput,
  type RenderPorts,
} from '@oiseau/render';
import { createFile, prepend, syncFile } from './file-sink.js';
import { FileByteSource } from './file-source.js';
import { decodeFile } from './decode.js';
import { encode } from './encode.js';
import { crc32Hasher, digestFile } from './checksum.js';
import { makeFolder } from './make-folder.js';
import { beginPartial, completePartial, demandReplaceable } from './target-folder.js';
import { paperPdf } from './paper-pdf.js';
import { translatorFor } from './translator.js';
import type { Threads } from './threads.js';
import { versionsHere } from './versions.js';
import { writeTags } from './write-tags.js';

/** A path whose folder is there: a part of an album has one of its own. */
async function made(path: string): Promise<string> {
  await makeFolder(dirname(path));
  return path;
}

/** The render's ports over one folder. `closeAll` lets go of the files that were opened for reading. */
function folderPorts(
  folder: string,
  beside: Pick<RenderPorts, 'stretches' | 'measurer'>,
): RenderPorts & { closeAll(): Promise<void> } {
  const opened: FileByteSource[] = [];
  const sums = new Map<string, Promise<string>>();
  const at = (path: string): string => join(folder, path);
  return {
    createFile: async (path) => createFile(await made(at(path))),
    openFile: async (path) => {
      const source = await FileByteSource.open(at(path));
      opened.push(source);
      return source;
    },
    patch: async (path, offset, bytes) => {
      const file = await open(at(path), 'r+');
      try {
        await file.write(bytes, 0, bytes.length, offset);
        await file.sync();
      } finally {
        await file.close();
      }
    },
    prepend: (path, bytes) => prepend(at(path), bytes),
    encode: async (path, order) => encode(await made(at(path)), order),
    tag: async (path, coding, tags, picture) => writeTags(at(path), coding, tags, picture),
    decode: (path) => decodeFile(at(path)),
    paper: paperPdf,
    translator: translatorFor,
    ...beside,
    made: versionsHere,
    crc32: crc32Hasher,
    // Several lists and the proof tell of one file: each sum is taken once.
    digest: (path, algorithm) => {
      const key = `${algorithm} ${path}`;
      const sum = sums.get(key) ?? digestFile(at(path), algorithm);
      sums.set(key, sum);
      return sum;
    },
    closeAll: async () => {
      await Promise.all(opened.splice(0).map((source) => source.close()));
    },
  };
}

/** Returns when everything in a folder is on disk. */
async function syncFolder(folder: string): Promise<void> {
  for (const entry of await readdir(folder, { recursive: true, withFileTypes: true }))
    if (entry.isFile()) await syncFile(join(entry.parentPath, entry.name));
}

/** The audio behind an album, and who answers for it. */
export interface AttestedInput extends RenderInput {
  /** Is asked when everything was read: whether that was what it should be. A render of which it throws is not proved. */
  readonly attest?: () => Promise<void>;
}

/** Who works beside the thread that renders, and how many at a time. */
export interface BesideIt {
  readonly threads: Threads;
  /** Of the threads; left out: all of them. */
  readonly share?: number;
}

/**
 * Renders a deliverable into `target` and proves it: `proof.json` lies with the files. Everything is written into a
 * folder beside the target and renamed when complete, so an interrupted render leaves no half-finished
 * deliverable, and the next one clears what a killed one left. A folder that stands there is replaced only where it is an earlier render.
 * @param kept files that are never replaced: the album and its masters
 * @param beside null: everything is done in this thread, and the files are the same
 * @param progress gets the seconds of audio rendered or read back so far; it may throw to stop the render
 */
export async function renderToFolder(
  plan: Plan,
  input: AttestedInput,
  revision: number,
  target: string,
  progress: (phase: 'render' | 'prove', doneSeconds: number) => void | Promise<void>,
  kept: readonly string[] = [],
  beside: BesideIt | null = null,
): Promise<Proof> {
  await demandReplaceable(target, kept);
  const partial = await beginPartial(target);
  const ports = folderPorts(
    partial,
    beside
      ? {
          stretches: (programmes) => beside.threads.stretches(programmes, input.masters, beside.share),
          measurer: beside.threads.measurer(beside.share),
        }
      : {},
  );
  let unwritten = audioFiles(plan).length;
  // As long as audio is written, that is what is told of.
  const proving = new Proving(input.cover !== null, ports, (seconds) =>
    unwritten === 0 ? progress('prove', seconds) : undefined,
  );
  try {
    const { plan: made } = await renderPlan(
      plan,
      input,
      ports,
      (seconds) => progress('render', seconds),
      (audio) => {
        unwritten--;
        proving.begin(audio);
      },
    );
    // The disk takes its time; meanwhile the files are read back.
    const stored = syncFolder(partial);
    const attested = Promise.resolve(input.attest?.());
    for (const each of [stored, attested]) each.catch(() => undefined);
    const proof = await proving.finish(made, revision);
    await attested;
    await stored;
    await ports.closeAll();
    await writeFile(join(partial, 'proof.json'), `${JSON.stringify(proof, null, 2)}\n`);
    await completePartial(partial, target, kept);
    return proof;
  } catch (error) {
    await proving.giveUp();
    await ports.closeAll();
    await rm(partial, { recursive: true, force: true });
    throw error;
  }
}

/** Seconds of audio that a plan writes. */
export function planSeconds(plan: Plan): number {
  return audioFiles(plan).reduce((sum, { length, rate }) => sum + length / rate, 0);
}
