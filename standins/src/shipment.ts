import { createHash } from 'node:crypto';
import { createReadStream } from 'node:fs';
import { mkdir, open, readdir, readFile, rm, stat } from 'node:fs/promises';
import { join } from 'node:path';
import { pipeline } from 'node:stream/promises';
import * as z from 'zod';
import { writeDurably } from './durable.js';

/** Why something was not taken, and where it stands. */
export const reason = z.object({
  code: z.string(),
  message: z.string(),
  /** A file of what was sent. */
  file: z.string().optional(),
  /** A field of what it says, as a path. */
  field: z.string().optional(),
  /** A track of it, from 1, on its disc. */
  track: z.int().optional(),
});
export type Reason = z.output<typeof reason>;

const announced = z.strictObject({
  path: z.string().min(1).max(500),
  bytes: z.int().min(0),
  sha256: z.string().regex(/^[0-9a-f]{64}$/),
});

/** An announced shipment. */
export const announcement = z.strictObject({
  /** Theirs: the same reference is the same shipment, however often it is announced. */
  reference: z.string().min(1).max(100),
  /** What the receiver must know beside the files; each kind of receiver reads its own. */
  what: z.record(z.string(), z.unknown()).default({}),
  files: z.array(announced).min(1).max(5000),
});
export type Announcement = z.output<typeof announcement>;

export const shipmentDocument = z.object({
  id: z.string(),
  ...announcement.shape,
  /** `receiving` until it is complete, then what the kind of receiver makes of it. */
  state: z.string(),
  reasons: z.array(reason).default([]),
  receipt: z.record(z.string(), z.unknown()).nullable().default(null),
  /** Share of the work that the state names, 0 to 1. */
  progress: z.number().default(0),
  /** What the receiver keeps to itself. */
  own: z.record(z.string(), z.unknown()).default({}),
});
export type Shipment = z.output<typeof shipmentDocument>;

/** A file that would lead out of its folder, or twice to one place. */
export const isPlainPath = (path: string): boolean =>
  !path.startsWith('/') &&
  !path.includes('\\') &&
  !path.split('/').some((step) => ['', '.', '..'].includes(step));

/** null: what is known of it can't be read any more; its sender is told that it doesn't exist, and sends it again. */
function readShipment(text: string): Shipment | null {
  try {
    return shipmentDocument.parse(JSON.parse(text));
  } catch {
    return null;
  }
}

/** Shipments on disk: a folder each, with what is known of it and what has arrived. What was acknowledged is there after a kill. */
export class Shipments {
  readonly #known = new Map<string, Shipment>();

  constructor(readonly folder: string) {}

  async load(): Promise<void> {
    await mkdir(this.folder, { recursive: true });
    for (const id of await readdir(this.folder)) {
      const text = await readFile(join(this.folder, id, 'shipment.json'), 'utf8').catch(() => null);
      const shipment = text === null ? null : readShipment(text);
      if (shipment) this.#known.set(id, shipment);
    }
  }

  all(): Shipment[] {
    return [...this.#known.values()];
  }

  find(id: string): Shipment | undefined {
    return this.#known.get(id);
  }

  withReference(reference: string): Shipment | undefined {
    return this.all().find((shipment) => shipment.reference === reference);
  }

  /** Keeps what is known of a shipment; it is on the disk when this resolves. */
  async keep(shipment: Shipment): Promise<void> {
    const folder = join(this.folder, shipment.id);
    await mkdir(join(folder, 'files'), { recursive: true });
    const path = join(folder, 'shipment.json');
    this.#known.set(shipment.id, shipment);
    await writeDurably(path, JSON.stringify(shipment));
  }

  /** Notes how far the work is, in memory alone: after a kill it begins anew anyway. */
  note(shipment: Shipment): void {
    this.#known.set(shipment.id, shipment);
  }

  async drop(id: string): Promise<void> {
    this.#known.delete(id);
    await rm(join(this.folder, id), { recursive: true, force: true });
  }

  /** Where a file of a shipment lies. @param place its place in the list */
  path({ id }: Pick<Shipment, 'id'>, place: number): string {
    return join(this.folder, id, 'files', String(place));
  }

  /** The path of a file by its name; undefined where there is none. */
  named(shipment: Shipment, name: string): string | undefined {
    const place = shipment.files.findIndex(({ path }) => path === name);
    return place < 0 ? undefined : this.path(shipment, place);
  }

  async received(shipment: Shipment, place: number): Promise<number> {
    return (await stat(this.path(shipment, place)).catch(() => null))?.size ?? 0;
  }

  /** Opens a file to go on with it where it ends. */
  async append(shipment: Shipment, place: number): Promise<Awaited<ReturnType<typeof open>>> {
    return open(this.path(shipment, place), 'a');
  }

  /** Files that are not what was announced. */
  async faults(shipment: Shipment): Promise<Reason[]> {
    const found: Reason[] = [];
    const names = new Set<string>();
    for (const [place, { path, bytes, sha256 }] of shipment.files.entries()) {
      const fault = (code: string, message: string): void => void found.push({ code, message, file: path });
      if (!isPlainPath(path)) fault('path', `“${path}” isn’t a valid path in a shipment.`);
      if (names.has(path)) fault('path', `“${path}” is listed twice.`);
      names.add(path);
      const size = await this.received(shipment, place);
      if (size !== bytes) {
        fault('size', `“${path}” has ${size} bytes; ${bytes} were announced.`);
        continue;
      }
      if (bytes > 0 && (await sumOf(this.path(shipment, place), 'sha256')) !== sha256)
        fault('checksum', `“${path}” differs from the announcement: its SHA-256 is different.`);
    }
    return found;
  }

  /** The bytes of a small file; null where there is none. */
  async bytes(shipment: Shipment, name: string): Promise<Buffer | null> {
    const path = this.named(shipment, name);
    return path === undefined ? null : readFile(path).catch(() => Buffer.alloc(0));
  }
}

/** The checksum of a file in lower-case hexadecimal. */
export async function sumOf(path: string, algorithm: 'sha256' | 'md5'): Promise<string> {
  const hash = createHash(algorithm);
  await pipeline(createReadStream(path), hash);
  return hash.digest('hex');
}
