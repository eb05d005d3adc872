import { randomUUID } from 'node:crypto';
import { ENDPOINTS } from '@oiseau/api';
import { patched, PatchMisfit, type AlbumPatch } from '@oiseau/album/edits';
import {
  albumFromFile,
  MOST_ISSUES,
  newestForm,
  parseAlbumFile,
  readAlbumDocument,
} from '@oiseau/album/file';
import { checkWhole, type Finding } from '@oiseau/checks';
import { isDeeperThan, safelyParsed } from '@oiseau/audio/schema';
import { layOutAlbum } from '@oiseau/album/layout';
import { withoutDrafts, type MasterFactsByKey } from '@oiseau/album/model';
import { PcmFileSource, type PcmInfo } from '@oiseau/audio/pcm';
import { readThrough, SilhouetteMeter } from '@oiseau/audio/measure';
import type { Paper } from '@oiseau/formats/disc';
import { FileByteSource, NoDiscImage, openImage, paperPdf } from '@oiseau/host';
import { ZodError, type z } from 'zod';
import { DamagedAlbum, documentText, parseDocument } from '../albums/album-repository.js';
import { PREPARE, preparedDocument } from './prepare.js';
import { listingOf } from '../albums/listing.js';
import type { Listing, OpenedImage, PatchedAlbum, ReadBody, Unchecked } from '../http/compute-pool.js';

/** As many as are worded, without the properties that aren't used, so that a hostile body costs the server's thread nothing. */
const firstIssues = (issues: readonly z.core.$ZodIssue[]): z.core.$ZodIssue[] =>
  issues.slice(0, MOST_ISSUES).map((issue) => {
    if (issue.code === 'unrecognized_keys') return { ...issue, keys: issue.keys.slice(0, MOST_ISSUES) };
    if (issue.code === 'invalid_union') return { code: 'custom', path: issue.path, message: issue.message };
    return issue;
  });

/** Objects and lists within each other; a body has some ten. */
const MOST_DEPTH = 100;

/** Everything that is done apart from the server's own thread; each by its name, with one argument that can be sent there. */
export const TASKS = {
  body({ call, text }: { readonly call: string; readonly text: string }): ReadBody {
    const schema = ENDPOINTS.find(({ method, path }) => `${method} ${path}` === call)?.body;
    if (isDeeperThan(text, MOST_DEPTH)) return { unreadable: true };
    let value: unknown;
    try {
      value = JSON.parse(text);
    } catch {
      return { unreadable: true };
    }
    if (!schema) return { unreadable: true };
    const read = safelyParsed(schema, value);
    if (read.success) return { body: PREPARE[call]?.(read.data as never) ?? read.data };
    return { issues: firstIssues(read.error.issues) };
  },

  check(subject: Unchecked): readonly Finding[] {
    return checkWhole({ ...subject, parts: layOutAlbum(subject.album, subject.masters) });
  },

  albumDocument({
    file,
    masters,
  }: {
    readonly file: string;
    readonly masters: ReadonlyMap<string, string>;
  }): string {
    return documentText(
      albumFromFile(
        { ...parseAlbumFile(file), artwork: null },
        (name) => masters.get(name) ?? '',
        () => randomUUID(),
      ),
    );
  },

  patchedAlbum({ document, patch }: { readonly document: string; readonly patch: AlbumPatch }): PatchedAlbum {
    try {
      const album = readAlbumDocument(patched(newestForm(JSON.parse(document)), patch));
      return { prepared: preparedDocument(album) };
    } catch (error) {
      if (error instanceof PatchMisfit) return { misfit: error.message };
      if (error instanceof ZodError) return { issues: firstIssues(error.issues) };
      throw error;
    }
  },

  albumJson({
    document,
    drafts,
  }: {
    readonly document: string;
    readonly drafts: boolean;
  }): { readonly json: string } | { readonly damaged: string } {
    try {
      const album = parseDocument(document);
      return { json: JSON.stringify(drafts ? album : withoutDrafts(album)) };
    } catch (error) {
      if (error instanceof DamagedAlbum) return { damaged: error.message };
      throw error;
    }
  },

  listings({
    documents,
    masters,
  }: {
    readonly documents: readonly string[];
    readonly masters: MasterFactsByKey;
  }): Listing[] {
    return documents.map((document) => listingOf(document, masters));
  },

  async image(folder: string): Promise<OpenedImage> {
    try {
      const { image, close } = await openImage(folder);
      await close();
      return { image };
    } catch (error) {
      if (error instanceof NoDiscImage) return { none: error.message };
      throw error;
    }
  },

  paper: (paper: Paper): Promise<Uint8Array> => paperPdf(paper),

  async outline({ path, info }: { readonly path: string; readonly info: PcmInfo }): Promise<Uint8Array> {
    const source = await FileByteSource.open(path);
    try {
      const pcm = new PcmFileSource(info, source);
      const meter = new SilhouetteMeter(pcm.rate, pcm.length);
      await readThrough(pcm, (block) => meter.push(block));
      const { values } = meter.result();
      return new Uint8Array(values.buffer, values.byteOffset, values.byteLength);
    } finally {
      await source.close();
    }
  },
} as const;

export type TaskName = keyof typeof TASKS;
