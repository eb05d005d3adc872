import {
  lineUpsOf,
  nameOfLineUp,
  nameOfSide,
  nameOfSound,
  sideQuestion,
  soundsOf,
  type LineUpQuestion,
  type LineUpsByName,
  type MeasuredSound,
  type SideQuestion,
  type SidesByName,
  type SoundFiguresByName,
} from '@oiseau/album/measured';
import { CONTRACT, type SoundRecord } from '@oiseau/api';
import { QueryObserver, type QueryClient } from '@tanstack/react-query';
import { answersQuery, figuresIn, type Answered, type Answers } from '../api/answers.js';
import { call } from '../api/client.js';
import type { AlbumStore } from './album-store.js';

/** What is known of the album as it stands that takes measuring: figures are keyed by what they measure, so those of another state are ignored. */
export interface KnownSounds {
  readonly figures: SoundFiguresByName;
  /** How other recordings lie to their masters. */
  readonly lineUps: LineUpsByName;
  readonly sides: SidesByName;
  /** Of a sound that is asked for; undefined while there is no answer. */
  recordOf(sound: MeasuredSound): SoundRecord | undefined;
}

export const NOTHING_KNOWN: KnownSounds = {
  ...{ figures: new Map(), lineUps: new Map(), sides: new Map() },
  recordOf: () => undefined,
};

/** After so long a rest, ms, what was changed is worth measuring. */
const REST_MS = 600;

export const askSounds = (id: string, sounds: readonly MeasuredSound[]) =>
  call(CONTRACT.measureSounds, { params: { id }, body: { sounds: [...sounds] } });
const askLineUps = (id: string, questions: readonly LineUpQuestion[]) =>
  call(CONTRACT.measureLineUps, { params: { id }, body: { questions: [...questions] } });
const askSides = (id: string, questions: readonly SideQuestion[]) =>
  call(CONTRACT.measureSides, { params: { id }, body: { questions: [...questions] } });

/** One kind of questions, put anew whenever they are others. */
class Questions<Q, A extends Answered> {
  readonly #observer: QueryObserver<Answers<A>, Error, Answers<A>, Answers<A>, readonly string[]>;
  constructor(
    queries: QueryClient,
    private readonly id: string,
    private readonly what: string,
    private readonly nameOf: (question: Q) => string,
    private readonly ask: (id: string, questions: readonly Q[]) => Promise<readonly A[]>,
  ) {
    this.#observer = new QueryObserver(queries, this.#query([]));
  }

  #query(questions: readonly Q[]) {
    return answersQuery(this.what, this.id, questions, this.nameOf, this.ask);
  }

  put(questions: readonly Q[]): void {
    this.#observer.setOptions(this.#query(questions));
  }

  get answers(): Answers<A> | undefined {
    return this.#observer.getCurrentResult().data;
  }

  subscribe = (listener: () => void): (() => void) => this.#observer.subscribe(listener);
}

/** Has what takes measuring measured on the server, in the background: asks as the album rests, and again while something is measured. */
export class Measurements {
  readonly #sounds: Questions<MeasuredSound, SoundRecord>;
  readonly #lineUps;
  readonly #sides;
  readonly #listeners = new Set<() => void>();
  #known = NOTHING_KNOWN;
  /** The answers that it was made of. */
  #learned: readonly unknown[] = [];
  #rest: ReturnType<typeof setTimeout> | undefined;

  constructor(
    id: string,
    private readonly store: Pick<AlbumStore, 'state' | 'subscribe'>,
    queries: QueryClient,
  ) {
    this.#sounds = new Questions(queries, id, 'sounds', nameOfSound, askSounds);
    this.#lineUps = new Questions(queries, id, 'line-ups', nameOfLineUp, askLineUps);
    this.#sides = new Questions(queries, id, 'sides', nameOfSide, askSides);
  }

  get known(): KnownSounds {
    return this.#known;
  }

  subscribe = (listener: () => void): (() => void) => {
    this.#listeners.add(listener);
    return () => this.#listeners.delete(listener);
  };

  /** Asks from now on. @returns the way to end it */
  attend(): () => void {
    let seen = this.store.state().parts;
    const ask = (): void => {
      const { album, parts } = this.store.state();
      this.#sounds.put(soundsOf(parts));
      this.#lineUps.put(lineUpsOf(album));
      this.#sides.put(parts.flatMap((part) => sideQuestion(part) ?? []));
    };
    const ends = [
      ...[this.#sounds, this.#lineUps, this.#sides].map((each) => each.subscribe(this.#learn)),
      this.store.subscribe(() => {
        const { parts } = this.store.state();
        if (parts === seen) return;
        seen = parts;
        clearTimeout(this.#rest);
        this.#rest = setTimeout(ask, REST_MS);
      }),
    ];
    ask();
    return () => {
      for (const end of ends) end();
      clearTimeout(this.#rest);
    };
  }

  readonly #learn = (): void => {
    const answers = [this.#sounds.answers, this.#lineUps.answers, this.#sides.answers] as const;
    // A question that is on its way is no news.
    if (answers.every((each, i) => each === this.#learned[i])) return;
    this.#learned = answers;
    const [sounds, lineUps, sides] = answers;
    this.#known = {
      figures: figuresIn(sounds),
      lineUps: figuresIn(lineUps),
      sides: figuresIn(sides),
      recordOf: (sound) => sounds?.get(nameOfSound(sound)),
    };
    for (const listener of [...this.#listeners]) listener();
  };
}
