import { msg } from '@oiseau/messages';
import { createHash, randomUUID } from 'node:crypto';
import { createReadStream, createWriteStream } from 'node:fs';
import { copyFile, link, mkdir, readdir, readFile, rename, rm, stat, statfs } from 'node:fs/promises';
import { dirname, join, relative, sep } from 'node:path';
import { Transform, type Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { Failure } from '@oiseau/audio/errors';
import { syncFile } from '@oiseau/host';
import { ApiError } from '../http/api-error.js';

/** A file that has arrived but has no place yet: `keep` or `discard` it. */
export interface Arrival {
  readonly path: string;
  readonly sha256: string;
  readonly bytes: number;
}

/** The media store is not there, or not the one of this database: nothing is imported or rendered meanwhile. */
export class StoreAway extends Failure {
  override readonly name = 'StoreAway';
  readonly code = 'store-away';
  readonly status = 503;
}
const MOUNT = 'Mount its disk or share, or set OISEAU_MEDIA to its location.';

/** Free bytes that a disk keeps: the database needs some of them for every edit. */
const USUAL_RESERVE = 500e6;

export const gigabytes = (bytes: number): string => `${(bytes / 1e9).toFixed(1)} GB`;

/** A stream may not say how long it is: the disk is looked at again after so many bytes. */
const CHECK_ROOM_EVERY = 64e6;

/** How long a file may lie in `incoming/` before it counts as left behind by a killed server. */
const STALE_MS = 24 * 3600 * 1000;

/** Bytes of a file that are hashed at once: in small pieces the way from one to the next takes longer than the work. */
const HASHED_AT_ONCE = 1 << 20;

/**
 * Files by content. Everything is streamed; names from people are never part of a path.
 *
 *     media/incoming/<random>          on its way in
 *     media/uploads/<id>, <id>.json    on its way in by pieces, and how far it is
 *     media/files/ab/ab12…             masters and pictures, named by their SHA-256
 *     media/decoded/ab/ab12….wav       the audio of coded masters, made from the file of that SHA-256
 *     media/deliveries/<id>/<attempt>/<name>/   what was rendered
 *     media/images/<id>/               disc images of others, for a day
 *     media/heard/<sha>.wav            the audio of rendered files that are coded, and outlines of them, for a day
 */
export class MediaStore {
  /** @param reserve bytes of the disk that stay free whatever comes in */
  constructor(
    readonly root: string,
    readonly reserve = USUAL_RESERVE,
  ) {}

  /** @throws ApiError 507 where so many bytes more would leave less than the reserve */
  async demandRoom(bytes: number): Promise<void> {
    const { bavail, bsize } = await statfs(this.root);
    const free = bavail * bsize;
    if (bytes <= free - this.reserve) return;
    throw new ApiError(
      507,
      msg(
        'The disk is too full: {gigabytes} are needed; {most} are free, of which {gigabytes3} are reserved.',
        { gigabytes: gigabytes(bytes), most: gigabytes(free), gigabytes3: gigabytes(this.reserve) },
      ),
    );
  }

  /** The mark by which the store is recognised; undefined: whatever lies there is the store (tests, the command line). */
  #id: string | undefined;
  #isPrepared = false;

  /** Where the mark lies. */
  get markFile(): string {
    return join(this.root, 'store.id');
  }

  /** From now on only a folder with this mark is the store. */
  expect(id: string): void {
    this.#id = id;
  }

  /**
   * Looks whether the store is there: a share that is not mounted leaves an empty folder, or none.
   * @throws StoreAway
   */
  async demandReady(): Promise<void> {
    if (this.#id === undefined) return;
    const found = await readFile(this.markFile, 'utf8').catch(() => null);
    if (found === null)
      throw new StoreAway(
        msg('The media store isn’t at {root}. {remedy}', { root: this.root, remedy: MOUNT }),
      );
    if (found.trim() !== this.#id)
      throw new StoreAway(
        msg('{root} is the media store of a different database. {remedy}', {
          root: this.root,
          remedy: MOUNT,
        }),
      );
    if (!this.#isPrepared) await this.prepare();
  }

  async prepare(): Promise<void> {
    for (const folder of [this.uploads, ...this.passing()]) await mkdir(folder, { recursive: true });
    await this.sweep();
    this.#isPrepared = true;
  }

  /** Folders of what stays for a while only. */
  readonly passing = (): string[] => [
    join(this.root, 'incoming'),
    join(this.root, 'images'),
    join(this.root, 'heard'),
  ];

  /** Gives up what was left behind there. */
  async sweep(now = Date.now()): Promise<void> {
    for (const folder of this.passing())
      for (const name of await readdir(folder)) {
        const path = join(folder, name);
        const touched = (await stat(path).catch(() => null))?.mtimeMs ?? now;
        if (now - touched > STALE_MS) await rm(path, { recursive: true, force: true });
      }
  }

  /**
   * Streams to disk while hashing; leaves nothing behind when the stream breaks, grows over `limit` bytes, or would take the disk's reserve.
   * @throws RangeError beyond `limit`, ApiError 507
   */
  async receive(stream: Readable, limit = Infinity): Promise<Arrival> {
    await this.demandReady();
    const path = this.scratch();
    const hash = createHash('sha256');
    let bytes = 0;
    let checked = 0;
    const count = new Transform({
      transform: (chunk: Buffer, _encoding, done) => {
        hash.update(chunk);
        bytes += chunk.length;
        if (bytes > limit) done(new RangeError(`more than ${limit} bytes`));
        else if (bytes - checked < CHECK_ROOM_EVERY) done(null, chunk);
        else {
          checked = bytes;
          this.demandRoom(CHECK_ROOM_EVERY).then(() => done(null, chunk), done);
        }
      },
    });
    try {
      await pipeline(stream, count, createWriteStream(path, { flags: 'wx' }));
    } catch (error) {
      await rm(path, { force: true });
      throw error;
    }
    return { path, sha256: hash.digest('hex'), bytes };
  }

  /** A path for a new file on its way in, on the same disk as its later place. */
  scratch(): string {
    return join(this.root, 'incoming', randomUUID());
  }

  /** Where uploads by pieces lie until they are complete. */
  get uploads(): string {
    return join(this.root, 'uploads');
  }

  /** Hashes a local file that is complete. */
  async hashed(path: string): Promise<Arrival> {
    const hash = createHash('sha256');
    let bytes = 0;
    const pieces = createReadStream(path, { highWaterMark: HASHED_AT_ONCE });
    for await (const chunk of pieces as AsyncIterable<Buffer>) {
      hash.update(chunk);
      bytes += chunk.length;
    }
    return { path, sha256: hash.digest('hex'), bytes };
  }

  /**
   * Gives an arrival its place; the same content is stored once, and replaces what may have become of it. The arrival stays until it is
   * discarded, so that nothing is lost where what follows goes wrong.
   */
  async keep(arrival: Arrival): Promise<void> {
    await this.demandReady();
    await syncFile(arrival.path);
    const place = this.file(arrival.sha256);
    const fresh = `${place}.${randomUUID()}`;
    await mkdir(dirname(place), { recursive: true });
    // Not every disk can give a file two names.
    await link(arrival.path, fresh).catch(() => copyFile(arrival.path, fresh));
    await rename(fresh, place);
  }

  /** Puts the decoded audio of a coded file in its place. */
  async keepDecoded(path: string, sha256: string): Promise<void> {
    await this.demandReady();
    await syncFile(path);
    const place = this.decoded(sha256);
    await mkdir(dirname(place), { recursive: true });
    await rename(path, place);
  }

  discard(arrival: Arrival): Promise<void> {
    return rm(arrival.path, { force: true });
  }

  /** Where a file of this content lies (or would lie). */
  file(sha256: string): string {
    demandSha256(sha256);
    return join(this.root, 'files', sha256.slice(0, 2), sha256);
  }

  /** Where the decoded audio of a coded file lies (or would lie). */
  decoded(sha256: string): string {
    demandSha256(sha256);
    return join(this.root, 'decoded', sha256.slice(0, 2), `${sha256}.wav`);
  }

  /** Where the decoded audio of a rendered file lies (or would lie), for a day. */
  heard(sha256: string): string {
    demandSha256(sha256);
    return join(this.root, 'heard', `${sha256}.wav`);
  }

  /** A path of the store as it is written down: below the root, with `/` between folders. */
  below(path: string): string {
    return relative(this.root, path).split(sep).join('/');
  }

  /** The words of a master: its file, or what was decoded from it. */
  audio(master: { readonly sha256: string; readonly coding: object | null }): string {
    return master.coding ? this.decoded(master.sha256) : this.file(master.sha256);
  }

  /** The folder of an uploaded disc image; `id` is created by the server. */
  image(id: string): string {
    if (!/^[0-9a-f-]{36}$/.test(id)) throw new RangeError('not an image');
    return join(this.root, 'images', id);
  }

  /** The folder of a delivery; `id` is made by the server. */
  delivery(id: string): string {
    if (!/^[0-9a-f-]{36}$/.test(id)) throw new RangeError('not a delivery');
    return join(this.root, 'deliveries', id);
  }
}

function demandSha256(text: string): void {
  if (!/^[0-9a-f]{64}$/.test(text)) throw new RangeError('not a SHA-256');
}
