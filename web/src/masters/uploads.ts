import {
  AudioRefused,
  demandMasterName,
  examineMaster,
  isMasterName,
  type ByteSource,
} from '@oiseau/audio/pcm';
import { compareNames } from '@oiseau/album/edits';
import { ApiFailure } from '@oiseau/api';
import { sendByPieces } from '../api/upload.js';
import { takeIn } from './take-in.js';
import { t } from '../ui/messages.js';

/** One file on its way in. */
export interface Upload {
  readonly id: number;
  readonly name: string;
  readonly bytes: number;
  /**
   * `asks`: it is mono, and waits for the person to say whether it may sound on both sides; `again`: the album has these very bytes
   * already.
   */
  readonly state: 'waiting' | 'sending' | 'judged' | 'decoding' | 'done' | 'refused' | 'asks' | 'again';
  /** 0 to 1. */
  readonly share: number;
  /** Why it was refused. */
  readonly reason: string | null;
}

/** Files that can still be stopped. */
export const STOPPABLE: readonly Upload['state'][] = ['waiting', 'sending', 'decoding'];

/** Files sent at the same time: enough to hide latency, few enough that the first is soon complete. */
const AT_ONCE = 2;

const fileBytes = (file: File): ByteSource => ({
  size: file.size,
  read: async (offset, length) => new Uint8Array(await file.slice(offset, offset + length).arrayBuffer()),
});

/** A file that was found in a dropped or chosen folder, where whatever else lies in it was not meant. */
const isFromFolder = (file: File & { path?: string }): boolean =>
  /[^./\\][/\\]/.test(file.path ?? '') || file.webkitRelativePath !== '';

interface Waiting {
  readonly id: number;
  readonly file: File;
  /** The person agreed to have one channel on both sides. */
  readonly mono: boolean;
  /** Number of an upload that is complete already. */
  readonly sent?: string;
}

/**
 * Brings files into one album, a few at a time. Each is judged by the core here, before a byte is sent, and again by the server; one that
 * is refused does not hold up the others. What has arrived waits in the album until it is settled (see `useArrivals`), so that nothing
 * hangs on this window. Outside React; views subscribe.
 */
export class UploadQueue {
  #uploads: readonly Upload[] = [];
  #nextId = 1;
  #leftAlone = 0;
  readonly #waiting: Waiting[] = [];
  readonly #landed = new Set<string>();
  /** Mono files by their upload, until the person has answered. */
  readonly #asking = new Map<number, Waiting>();
  readonly #stops = new Map<number, AbortController>();
  #running = 0;
  readonly #listeners = new Set<() => void>();

  /** @param arrived called whenever a file has come in */
  constructor(
    readonly albumId: string,
    readonly arrived: () => void,
  ) {}

  get uploads(): readonly Upload[] {
    return this.#uploads;
  }

  /** Whether files are still on their way. */
  get isBusy(): boolean {
    return this.#uploads.some(
      ({ state }) => state === 'waiting' || state === 'sending' || state === 'judged' || state === 'decoding',
    );
  }

  /** Whether something has come in that the list of the album’s masters does not tell of yet. */
  get isLanding(): boolean {
    return this.#landed.size > 0;
  }

  /** The list tells of these masters. */
  landed(masters: Iterable<string>): void {
    for (const sha256 of masters) this.#landed.delete(sha256);
  }

  /** Other files that lay in a folder with the masters and were passed over. */
  get leftAlone(): number {
    return this.#leftAlone;
  }

  subscribe = (listener: () => void): (() => void) => {
    this.#listeners.add(listener);
    return () => this.#listeners.delete(listener);
  };

  add(files: readonly File[]): void {
    const meant = files.filter((file) => !isFromFolder(file) || isMasterName(file.name));
    this.#leftAlone += files.length - meant.length;
    const ordered = meant.sort((a, b) => compareNames(a.name, b.name));
    const coming = ordered.map((file): Upload => {
      const id = this.#nextId++;
      this.#waiting.push({ id, file, mono: false });
      return { id, name: file.name, bytes: file.size, state: 'waiting', share: 0, reason: null };
    });
    this.#publish([...this.#uploads, ...coming]);
    this.#pump();
  }

  /** Takes mono files in, on both sides, or lets them go. */
  answerMono(ids: readonly number[], agreed: boolean): void {
    for (const id of ids) {
      const asking = this.#asking.get(id);
      this.#asking.delete(id);
      if (!asking) continue;
      if (agreed) {
        this.#waiting.push({ ...asking, mono: true });
        this.#change(id, { state: 'waiting' });
      } else this.#drop(id);
    }
    this.#pump();
  }

  /** Stops one file on its way, or all; what has arrived stays. */
  stop(id?: number): void {
    for (const upload of this.#uploads.filter((each) => id === undefined || each.id === id)) {
      if (!STOPPABLE.includes(upload.state)) continue;
      const place = this.#waiting.findIndex((each) => each.id === upload.id);
      if (place >= 0) this.#waiting.splice(place, 1);
      this.#stops.get(upload.id)?.abort();
      this.#drop(upload.id);
    }
  }

  /** Takes what was refused, or was here already, off the list. */
  forget(): void {
    this.#leftAlone = 0;
    this.#publish(this.#uploads.filter(({ state }) => state !== 'refused' && state !== 'again'));
  }

  #pump(): void {
    while (this.#running < AT_ONCE) {
      const next = this.#waiting.shift();
      if (!next) break;
      this.#running++;
      void this.#bringIn(next).finally(() => {
        this.#running--;
        this.#stops.delete(next.id);
        this.#pump();
      });
    }
    // Those that are in stay on the list as long as others come, so that its sums keep their sense.
    if (this.#running === 0) this.#publish(this.#uploads.filter(({ state }) => state !== 'done'));
  }

  async #bringIn(waiting: Waiting): Promise<void> {
    const { id, file, mono } = waiting;
    let sent = waiting.sent;
    const stop = new AbortController();
    this.#stops.set(id, stop);
    try {
      demandMasterName(file.name);
      await examineMaster(fileBytes(file), mono);
      if (sent === undefined) {
        this.#change(id, { state: 'sending' });
        sent = await sendByPieces(file, (share) => this.#change(id, { share }), stop.signal);
      }
      this.#change(id, { state: 'judged', share: 1 });
      const { sha256, known } = await takeIn(
        this.albumId,
        { upload: sent, name: file.name, mono, awaits: true },
        (decoded) => this.#change(id, { state: 'decoding', share: decoded }),
        stop.signal,
      );
      this.#landed.add(sha256);
      if (known) this.#change(id, { state: 'again' });
      else this.#change(id, { state: 'done' });
      this.arrived();
    } catch (error) {
      // It may have been in before the word came.
      if (stop.signal.aborted) return this.arrived();
      if (isMono(error)) {
        this.#asking.set(id, { ...waiting, ...(sent === undefined ? {} : { sent }) });
        this.#change(id, { state: 'asks' });
        return;
      }
      const known = error instanceof AudioRefused || error instanceof ApiFailure;
      this.#change(id, { state: 'refused', reason: known ? error.message : t('The file couldn’t be read.') });
    }
  }

  #drop(id: number): void {
    this.#publish(this.#uploads.filter((upload) => upload.id !== id));
  }

  #change(id: number, change: Partial<Upload>): void {
    this.#publish(this.#uploads.map((upload) => (upload.id === id ? { ...upload, ...change } : upload)));
  }

  #publish(uploads: readonly Upload[]): void {
    this.#uploads = uploads;
    this.#listeners.forEach((listener) => listener());
  }
}

/** Whether a file was refused because it is mono, which the user may confirm. */
export function isMono(error: unknown): boolean {
  if (error instanceof AudioRefused) return error.reason === 'mono';
  return error instanceof ApiFailure && error.details.reason === 'mono';
}
