import { ApiFailure, type AlbumRecord } from '@oiseau/api';
import { sameValue } from '@oiseau/album/edits';
import type { Album } from '@oiseau/album/model';
import type { EditedAlbum } from './edited-album.js';
import { isDirty, type Editing } from './history.js';
import { together, type NewerAlbum } from './merging.js';
import type { UnsavedEdits, UnsavedKeeper } from './unsaved-edits.js';
import { t } from '../ui/messages.js';

/** How long typing must rest before an edit goes to the server, and how long to wait after a failure. */
const SAVE_AFTER_MS = 350;
const RETRY_MS = 3000;

const IN_CONFLICT = t('Someone else changed the same fields of this album. Choose a version first.');

/** Where the album is kept. */
export interface AlbumServer {
  /**
   * Saves a state over a version, and gives the new version.
   * @param saved what the server has under that version: only what differs is sent
   * @param closing the window is about to go: the call must outlive it
   * @throws ApiFailure 409 where the album has moved on
   */
  save(version: number, album: Album, saved: Album, closing: boolean): Promise<number>;
  /** The states that came after a version, in order; the newest alone where those between are not known. @param saved what the server had under that version */
  since(version: number, saved: Album): Promise<readonly NewerAlbum[]>;
}

/** Receives another user's state and the state `before` it. */
export type MergeListener = (theirs: NewerAlbum, before: Album) => void;

/**
 * How an edited album stands with the server: saves it by itself, never over another user's edits, and merges theirs.
 * What is not confirmed is kept. Its functions may be handed on by themselves.
 */
export class Saving {
  #running: Promise<void> | null = null;
  #catching: Promise<void> | null = null;
  /** The newest announced version. */
  #wanted = 0;
  #timer: ReturnType<typeof setTimeout> | undefined;
  /** States sent over the current version and not acknowledged: the server may have one of them. */
  #sent: readonly Album[] = [];
  #kept: UnsavedEdits | null = null;
  /** The view is closed: unsaved edits are for the next visit. */
  #left = false;
  readonly #listeners = new Set<MergeListener>();

  constructor(
    private readonly album: EditedAlbum,
    private readonly server: AlbumServer,
    private readonly unsaved: UnsavedKeeper,
  ) {
    album.onAction = () => {
      this.#keep();
      this.#saveSoon();
    };
  }

  get #editing(): Editing {
    return this.album.state().editing;
  }

  /** Whether the server may have another state than what stands. */
  get #isUnsaved(): boolean {
    return isDirty(this.#editing) || this.#sent.length > 0;
  }

  #keep(): void {
    const { version, album } = this.#editing;
    const now = this.#isUnsaved ? { version, album, sent: this.#sent } : null;
    const kept = this.#kept;
    if (now?.album === kept?.album && now?.version === kept?.version && now?.sent === kept?.sent) return;
    this.#kept = now;
    if (now) this.unsaved.put(now);
    else this.unsaved.clear();
  }

  #saveSoon(): void {
    clearTimeout(this.#timer);
    const { saving } = this.#editing;
    if (this.#left || !this.#isUnsaved || saving === 'conflict') return;
    this.#timer = setTimeout(
      () => void this.saveNow().catch(() => undefined),
      saving === 'failed' ? RETRY_MS : SAVE_AFTER_MS,
    );
  }

  /** Resolves when everything is on the server. @throws ApiFailure, also while a conflict waits for a choice */
  readonly saveNow = async (): Promise<void> => {
    while (this.#running || (this.#isUnsaved && this.#editing.saving !== 'conflict'))
      await (this.#running ?? this.#save(false));
    if (this.#editing.saving === 'conflict') throw new ApiFailure(409, IN_CONFLICT);
  };

  /** Saves what is not saved yet in the last moment of a window. */
  readonly saveClosing = (): void => {
    if (!this.#isUnsaved || this.#editing.saving === 'conflict' || this.#running) return;
    clearTimeout(this.#timer);
    this.#save(true).catch(() => undefined);
  };

  #save(closing: boolean): Promise<void> {
    return (this.#running = this.#saveOnce(closing).finally(() => (this.#running = null)));
  }

  async #saveOnce(closing: boolean): Promise<void> {
    const { album, version, savedAlbum } = this.#editing;
    // By value: one that an earlier window sent was read from the storage and is another object.
    this.#sent = [...this.#sent.filter((state) => !sameValue(state, album)), album];
    this.album.dispatch({ type: 'saving' });
    try {
      const saved = await this.server.save(version, album, savedAlbum, closing);
      this.#sent = [];
      this.album.dispatch({ type: 'saved', album, version: saved });
    } catch (error) {
      const status = error instanceof ApiFailure ? error.status : 0;
      const there = status === 409 ? await this.server.since(version, savedAlbum).catch(() => []) : [];
      there.forEach(this.#meet);
      // Taken in or met with a conflict, which is told: what is still unsaved is saved over it.
      if (there.length > 0) return;
      // A refused state did not arrive; without a response that is unknown.
      if (status >= 400 && status < 500) this.#sent = this.#sent.filter((state) => state !== album);
      const message = error instanceof Error ? error.message : String(error);
      this.album.dispatch({ type: 'save failed', message });
      throw error;
    }
  }

  /** What the server has is one of the states that were sent and not answered, or what was there before: that is no conflict. @returns whether it is */
  #recognise({ album, version }: Pick<AlbumRecord, 'album' | 'version'>): boolean {
    const own = [...this.#sent, this.#editing.savedAlbum].find((state) => sameValue(state, album));
    if (!own) return false;
    this.#sent = [];
    this.album.dispatch({ type: 'saved', album: own, version });
    return true;
  }

  /** Merges another user's state, or stops at a conflict. */
  readonly #meet = (newer: NewerAlbum): void => {
    if (newer.version <= this.#editing.version || this.#recognise(newer)) return;
    const { savedAlbum, album } = this.#editing;
    // What led to a state that came alone may hold own edits without an answer yet: they can't be told from others'.
    const isClear = newer.who !== null || this.#sent.length === 0;
    const { mine, theirs } = together(savedAlbum, album, newer.album);
    if (mine !== theirs || !isClear) return this.album.dispatch({ type: 'conflicted', theirs: newer });
    this.#sent = [];
    this.album.dispatch({ type: 'merged', theirs: newer, album: mine });
    for (const listener of [...this.#listeners]) listener(newer, savedAlbum);
  };

  /** Calls `listener` with each merged change of another user. @returns the way to end it */
  readonly onMerged = (listener: MergeListener): (() => void) => {
    this.#listeners.add(listener);
    return () => this.#listeners.delete(listener);
  };

  /** Ends a conflict: both states are put together, and where both have changed one place it is as `winner` has it. That can be undone. */
  readonly resolve = (winner: 'mine' | 'theirs'): void => {
    const { theirs, savedAlbum, album } = this.#editing;
    if (!theirs) return;
    const merged = together(savedAlbum, album, theirs.album);
    this.#sent = [];
    this.album.dispatch({ type: 'merged', theirs, album: merged.mine });
    if (winner === 'theirs')
      this.album.dispatch({ type: 'edited', album: merged.theirs, words: t('their version') });
  };

  /** Gives up the own edits for the server's state. */
  readonly takeOver = async (): Promise<void> => {
    const { theirs, version, savedAlbum } = this.#editing;
    const newest = theirs ?? (await this.server.since(version, savedAlbum)).at(-1);
    this.#sent = [];
    if (newest) this.album.dispatch({ type: 'taken over', ...newest });
  };

  /** Notes the server's state, possibly of another user. */
  readonly noteServer = (newer: NewerAlbum): void => {
    if (!this.#running) this.#meet(newer);
  };

  /** The server has this version: what led to it is fetched unless it is one's own. */
  readonly catchUp = (version: number): Promise<void> => {
    this.#wanted = Math.max(this.#wanted, version);
    return (this.#catching ??= this.#catchUpNow().finally(() => (this.#catching = null)));
  };

  async #catchUpNow(): Promise<void> {
    while (this.#wanted > this.#editing.version) {
      const asked = this.#wanted;
      await this.#running?.catch(() => undefined);
      const { version, savedAlbum } = this.#editing;
      if (this.#wanted <= version) return;
      (await this.server.since(version, savedAlbum)).forEach(this.#meet);
      // A conflict stays until the user chooses.
      if (this.#wanted === asked) this.#wanted = 0;
    }
  }

  /** Goes on from edits that an earlier window has left, as one step. @returns the step's name for `takeBack`; null where they are what stands */
  readonly resume = ({ album, sent }: UnsavedEdits): number | null => {
    this.#sent = [...this.#sent, ...sent];
    if (!sameValue(album, this.#editing.album)) {
      this.album.dispatch({ type: 'edited', album, words: t('edits from your last visit') });
      return this.#editing.past.at(-1)?.id ?? null;
    }
    // A state that was sent before it may still arrive: it is saved over that.
    this.#keep();
    this.#saveSoon();
    return null;
  };

  /** Marks the album as open in a view. @returns call it on leaving: it saves what is unsaved; what fails stays in storage for the next visit */
  readonly attend = (): (() => void) => {
    this.#left = false;
    return () => {
      this.#left = true;
      clearTimeout(this.#timer);
      if (this.#editing.saving !== 'conflict') this.saveNow().catch(() => undefined);
    };
  };
}
