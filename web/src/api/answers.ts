import type { SoundRecord } from '@oiseau/api';
import { keepPreviousData, queryOptions } from '@tanstack/react-query';
import { whileNotTold } from './changes.js';

/** What is answered to a question: figures, or how far the measuring is. */
export interface Answered {
  readonly figures: unknown;
  readonly job?: SoundRecord['job'];
}

/** Answers by the names of their questions. */
export type Answers<A> = ReadonlyMap<string, A>;

/** How often it is asked how far the measuring is, ms. */
const ASK_MS = 800;
/** A sound not requested for half a minute is abandoned: interval of requests while changes report its progress, ms. */
export const STILL_WANTED_MS = 10_000;

/**
 * Questions to the server that take measuring, asked again while something is measured.
 * @param what tells these questions from others
 * @param nameOf tells one question from another
 * @param ask puts questions, and gives their answers in the same order
 */
export const answersQuery = <Q, A extends Answered>(
  what: string,
  id: string,
  questions: readonly Q[],
  nameOf: (question: Q) => string,
  ask: (id: string, questions: readonly Q[]) => Promise<readonly A[]>,
) =>
  queryOptions<Answers<A>, Error, Answers<A>, readonly string[]>({
    queryKey: [what, id, JSON.stringify(questions.map(nameOf))],
    enabled: questions.length > 0,
    queryFn: async (): Promise<Answers<A>> => {
      const answers = await ask(id, questions);
      return new Map(questions.flatMap((each, i) => entry(nameOf(each), answers[i])));
    },
    placeholderData: keepPreviousData,
    // Answers are maps, and mostly others.
    structuralSharing: false,
    refetchInterval: ({ state }) =>
      [...(state.data?.values() ?? [])].some(({ figures, job }) => !figures && job?.state !== 'failed')
        ? whileNotTold(ASK_MS) || STILL_WANTED_MS
        : false,
  });

const entry = <A>(name: string, answer: A | undefined): (readonly [string, A])[] =>
  answer ? [[name, answer]] : [];

/** Of answers those that are there, by the name of what they answer. */
export const figuresIn = <F>(
  answers: ReadonlyMap<string, { readonly figures: F | null }> | undefined,
): ReadonlyMap<string, F> =>
  new Map(
    [...(answers ?? [])].flatMap(([name, { figures }]): [string, F][] => (figures ? [[name, figures]] : [])),
  );
