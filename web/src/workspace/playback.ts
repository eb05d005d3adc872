import type { Part } from '@oiseau/album/layout';
import { alternateNames, MAIN, sequenceOfAlternate, soundKey, type Sequence } from '@oiseau/album/model';
import type { Guest } from '../player/guest.js';
import type { Player } from '../player/player.js';
import type { AlbumState } from './album-state.js';
import type { AlbumStore } from './album-store.js';
import { programmeOf } from './programme-of.js';

/** The album as a view lets it be heard: with something left out or in the hand, and with what it is compared to. */
export interface Lens {
  readonly sequence: Sequence;
  /** What is heard instead by one key. */
  readonly other: Sequence;
  /** Something is dragged. */
  readonly soon: boolean;
}

/** What the player has. */
export interface PlaybackState {
  /** What is on the player instead of the album. */
  readonly guest: Guest | null;
  /** A view lets the album be heard in a way of its own. */
  readonly lens: Lens | null;
  /** Which recording of the album is heard: the masters, or an alternate wherever a song has it. */
  readonly recording: string;
  /** The number of the part that is heard, or would be: the one that is shown, but while another one plays that one. */
  readonly heard: number;
  /** The number of the part that follows after a second, while it is silent between two. */
  readonly follows: number | null;
}

/** What of the album's store the player follows. */
export type HeardStore = Pick<AlbumStore, 'state' | 'subscribe' | 'showPart'>;

/** The silence between two parts, ms: as long as it takes to know that something has ended. */
const BETWEEN_PARTS_MS = 1000;
/** What is dragged is sent to the player so often that it is heard while it goes on, ms. */
const DRAFT_EVERY_MS = 80;

/** Something of a view's own is heard, made of the masters. */
export const isFixed = ({ guest, lens }: Pick<PlaybackState, 'guest' | 'lens'>): boolean =>
  guest !== null || lens !== null;

/**
 * Decides what the player plays: the part in hand as the album stands or as a drag would leave it, a view's lens on it, or a guest; and
 * goes on from one part to the next. It follows the store by itself: no view hands anything through.
 */
export class Playback {
  #state: PlaybackState = { guest: null, lens: null, recording: MAIN, heard: 1, follows: null };
  readonly #listeners = new Set<() => void>();
  /** How often something had been begun when the part that is heard was told last. */
  #starts = 0;
  /** The sound of the album that the player has, by its key; null: it has something else. */
  #sound: string | null = null;
  /** What the last programme was made of. */
  #made: (Pick<AlbumState, 'part' | 'mastersById'> & { readonly recording: string }) | null = null;
  /** Where the album was when a guest came. */
  #position = 0;
  #next: ReturnType<typeof setTimeout> | undefined;
  #draft: { timer: ReturnType<typeof setTimeout> | undefined; waiting: boolean; sent: Part | null } = {
    ...{ timer: undefined, waiting: false, sent: null },
  };

  /** @param store null: there is no album, only guests are heard */
  constructor(
    readonly player: Player,
    private readonly store: HeardStore | null,
  ) {}

  get state(): PlaybackState {
    return this.#state;
  }

  subscribe = (listener: () => void): (() => void) => {
    this.#listeners.add(listener);
    return () => this.#listeners.delete(listener);
  };

  /** Follows the album and the player. @returns the way to end it */
  attend(): () => void {
    this.player.onStart = () => this.#begin();
    this.player.onEnd = () => this.#goOn();
    const ends = [this.player.subscribe(this.#follow), this.store?.subscribe(this.#follow)];
    this.#follow();
    return () => {
      for (const end of ends) end?.();
      clearTimeout(this.#next);
      clearTimeout(this.#draft.timer);
      this.player.onStart = undefined;
      this.player.onEnd = undefined;
      this.#sound = null;
      this.#made = null;
    };
  }

  /** Puts something else on the player, or the album again, where it was. */
  setGuest(guest: Guest | null): void {
    const { player } = this;
    const before = this.#state.guest;
    if (guest === before) return;
    player.stop();
    if (before) player.seek(this.#position);
    else this.#position = player.state.position;
    this.#set({ guest });
    if (guest) {
      this.#sound = null;
      player.setProgramme(guest.programme);
      player.seek(guest.playFrom ?? 0);
      if (guest.playFrom !== undefined) void player.play(guest.playFrom);
    }
    this.#follow();
  }

  setLens(lens: Lens | null): void {
    this.#set({ lens });
    if (lens) this.#hearLens();
    this.#follow();
  }

  /** @param recording the name of an alternate, or `MAIN` */
  hearRecording(recording: string): void {
    this.#set({ recording });
    this.#follow();
  }

  #set(change: Partial<PlaybackState>): void {
    const names = Object.keys(change) as (keyof PlaybackState)[];
    if (names.every((name) => this.#state[name] === change[name])) return;
    this.#state = { ...this.#state, ...change };
    for (const listener of [...this.#listeners]) listener();
  }

  readonly #follow = (): void => {
    if (!this.store) return;
    const { album, parts, part: shown, mastersById, draft } = this.store.state();
    // One that no song has any more is not heard.
    const { recording } = this.#state;
    if (recording !== MAIN && !alternateNames(album).includes(recording)) this.#set({ recording: MAIN });
    this.#tellHeard(shown);
    if (this.#state.guest) return;
    if (this.#state.lens) {
      if (this.#made?.mastersById !== mastersById) this.#hearLens();
    } else if (draft || this.#draft.sent) this.#hearDraft(draft?.part ?? null);
    else this.#hearAlbum(parts[this.#state.heard - 1] ?? shown);
  };

  /** Another part may be looked at while one plays; whatever is played next is of the part that is shown. */
  #tellHeard({ number }: Part): void {
    const { playing, starts } = this.player.state;
    const isFollowing = isFixed(this.#state) || !playing || starts !== this.#starts;
    if (!isFollowing || (number === this.#state.heard && starts === this.#starts)) return;
    const isAnother = number !== this.#state.heard;
    this.#starts = starts;
    this.#set({ heard: number });
    // A place on one part is none on another.
    if (isAnother && !playing && !this.#state.guest) this.player.seek(0);
  }

  #hearLens(): void {
    const { lens } = this.#state;
    const { mastersById, part } = this.store?.state() ?? {};
    if (!lens || !mastersById || !part) return;
    this.#sound = null;
    this.#made = { part, mastersById, recording: MAIN };
    const programme = programmeOf(lens.sequence, mastersById);
    if (programme) this.player.setProgramme({ ...programme, other: lens.other }, lens.soon);
  }

  /** Titles and codes change the album too; only what is heard makes a new programme. */
  #hearAlbum(part: Part): void {
    const { mastersById } = this.store?.state() ?? {};
    const { recording } = this.#state;
    if (!mastersById) return;
    const made = this.#made;
    const isSame = made?.part === part && made.mastersById === mastersById && made.recording === recording;
    if (isSame && this.#sound !== null) return;
    this.#made = { part, mastersById, recording };
    const sequence = sequenceOfAlternate(part, recording);
    const programme = programmeOf(sequence, mastersById);
    const sound = soundKey(sequence);
    if (!programme || sound === this.#sound) return;
    this.#sound = sound;
    this.player.setProgramme(programme);
  }

  /** Lets what is dragged be heard before it is an edit, as often as the player can follow. @param part null: it was taken back */
  #hearDraft(part: Part | null): void {
    const { state } = this.player;
    if (part && !state.hearing) return;
    if (!part) {
      clearTimeout(this.#draft.timer);
      this.#draft = { timer: undefined, waiting: false, sent: null };
      this.#sound = null;
      this.#follow();
      return;
    }
    if (part === this.#draft.sent) return;
    if (this.#draft.timer !== undefined) {
      this.#draft.waiting = true;
      return;
    }
    const { mastersById } = this.store?.state() ?? {};
    const programme =
      mastersById && programmeOf(sequenceOfAlternate(part, this.#state.recording), mastersById);
    if (programme) this.player.setProgramme(programme, true);
    const timer = setTimeout(() => {
      const { waiting } = this.#draft;
      this.#draft = { ...this.#draft, timer: undefined, waiting: false };
      if (waiting) this.#follow();
    }, DRAFT_EVERY_MS);
    this.#draft = { timer, waiting: false, sent: part };
  }

  /** Gives the player the part that is shown before it plays anything, and not with what is drawn next only. */
  #begin(): void {
    if (!this.store || isFixed(this.#state)) return;
    const { part } = this.store.state();
    if (part.number !== this.#state.heard) this.#hearAlbum(part);
  }

  /** At the end of a part the next one is shown and played, after a second. */
  #goOn(): void {
    const { guest, heard } = this.#state;
    if (!this.store || guest || heard >= this.store.state().parts.length) return;
    const next = heard + 1;
    this.store.showPart(next);
    this.#set({ follows: next });
    this.#next = setTimeout(() => {
      this.#set({ follows: null });
      // Playback may have started meanwhile.
      if (!this.player.state.playing) void this.player.play(0);
    }, BETWEEN_PARTS_MS);
  }
}
