import { AudioRefused, compareNames, demandMasterName, examineMaster, type ByteSource } from '@oiseau/core';
import { ApiFailure, sendFile } from '../api/client.js';

/** One file on its way in. */
export interface Upload {
  readonly id: number;
  readonly name: string;
  readonly bytes: number;
  readonly state: 'waiting' | 'sending' | 'done' | 'refused';
  /** 0 to 1. */
  readonly share: number;
  /** Why it was refused. */
  readonly reason: string | null;
  /** SHA-256, once it is in. */
  readonly sha256: string | null;
}

/** Files sent at the same time: enough to hide latency, few enough that the first is soon complete. */
const AT_ONCE = 2;

const fileBytes = (file: File): ByteSource => ({
  size: file.size,
  read: async (offset, length) => new Uint8Array(await file.slice(offset, offset + length).arrayBuffer()),
});

/**
 * Brings files in, a few at a time. Each is judged by the core here, before a byte is sent, and again by the server; one that
 * is refused does not hold up the others. Outside React; views subscribe.
 */
export class UploadQueue {
  #uploads: readonly Upload[] = [];
  #nextId = 1;
  readonly #waiting: { id: number; file: File }[] = [];
  #running = 0;
  readonly #stop = new AbortController();
  readonly #listeners = new Set<() => void>();

  /** @param arrived called when a whole batch has come to rest, with its masters in the order of their names */
  constructor(
    readonly albumId: string,
    readonly arrived: (masters: readonly { name: string; sha256: string }[]) => void,
  ) {}

  get uploads(): readonly Upload[] {
    return this.#uploads;
  }

  subscribe = (listener: () => void): (() => void) => {
    this.#listeners.add(listener);
    return () => this.#listeners.delete(listener);
  };

  add(files: readonly File[]): void {
    const ordered = [...files].sort((a, b) => compareNames(a.name, b.name));
    for (const file of ordered) {
      const id = this.#nextId++;
      this.#waiting.push({ id, file });
      this.#publish([
        ...this.#uploads,
        { id, name: file.name, bytes: file.size, state: 'waiting', share: 0, reason: null, sha256: null },
      ]);
    }
    this.#pump();
  }

  /** Takes what was refused or is done off the list. */
  clear(): void {
    this.#publish(this.#uploads.filter(({ state }) => state === 'waiting' || state === 'sending'));
  }

  close(): void {
    this.#waiting.length = 0;
    this.#stop.abort();
  }

  #pump(): void {
    while (this.#running < AT_ONCE) {
      const next = this.#waiting.shift();
      if (!next) break;
      this.#running++;
      void this.#bringIn(next.id, next.file).finally(() => {
        this.#running--;
        this.#pump();
      });
    }
    if (this.#running === 0) this.#finishBatch();
  }

  async #bringIn(id: number, file: File): Promise<void> {
    this.#change(id, { state: 'sending' });
    try {
      demandMasterName(file.name);
      await examineMaster(fileBytes(file), false);
      const path = `/albums/${this.albumId}/masters?name=${encodeURIComponent(file.name)}`;
      const { sha256 } = await sendFile<{ sha256: string }>(
        path,
        file,
        (share) => this.#change(id, { share }),
        this.#stop.signal,
      );
      this.#change(id, { state: 'done', share: 1, sha256 });
    } catch (error) {
      const known = error instanceof AudioRefused || error instanceof ApiFailure;
      this.#change(id, { state: 'refused', reason: known ? error.message : 'The file could not be read.' });
    }
  }

  #finishBatch(): void {
    const masters = this.#uploads.flatMap(({ name, sha256 }) => (sha256 ? [{ name, sha256 }] : []));
    this.#publish(this.#uploads.filter(({ state }) => state !== 'done'));
    if (masters.length > 0) this.arrived(masters.sort((a, b) => compareNames(a.name, b.name)));
  }

  #change(id: number, change: Partial<Upload>): void {
    this.#publish(this.#uploads.map((upload) => (upload.id === id ? { ...upload, ...change } : upload)));
  }

  #publish(uploads: readonly Upload[]): void {
    this.#uploads = uploads;
    this.#listeners.forEach((listener) => listener());
  }
}
