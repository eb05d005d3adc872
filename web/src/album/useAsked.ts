import { mayDo, type SoundRecord } from '@oiseau/api';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useEffect, useMemo, useState } from 'react';
import { whileNotTold } from '../api/changes.js';
import { useVisitor } from '../access/VisitorContext.js';
import { useAlbum } from './AlbumContext.js';

/** After so long a rest, ms, what was changed is worth measuring. */
const REST_MS = 600;
/** How often it is asked how far the measuring is, ms. */
const ASK_MS = 800;
/** A sound that nobody has asked for within half a minute is not measured any more: so often it is asked for where the channel of changes tells how far it is, ms. */
export const STILL_WANTED_MS = 10_000;

/** What is answered to a question: figures, or how far the measuring is. */
interface Answered {
  readonly figures: unknown;
  readonly job?: SoundRecord['job'];
}

/** A value as it was when it last rested. */
function useRested<T>(value: T): T {
  const [rested, setRested] = useState(value);
  useEffect(() => {
    const timer = setTimeout(() => setRested(value), REST_MS);
    return () => clearTimeout(timer);
  }, [value]);
  return rested;
}

/**
 * Has something measured on the server, in the background: asks as the questions rest, and again while something is measured.
 * @param what tells these questions from others
 * @param nameOf tells one question from another; answers are found by it
 * @param ask puts questions, and gives their answers in the same order
 */
export function useAsked<Q, A extends Answered>(
  what: string,
  questions: readonly Q[],
  nameOf: (question: Q) => string,
  ask: (id: string, questions: readonly Q[]) => Promise<readonly A[]>,
): ReadonlyMap<string, A> | undefined {
  const { id } = useAlbum('id');
  // Who only listens has nothing measured.
  const works = mayDo(useVisitor().role, 'work');
  const name = useMemo(() => JSON.stringify(questions.map(nameOf)), [questions, nameOf]);
  const rested = useRested(name);
  const asked = rested === name ? questions : null;
  return useQuery({
    queryKey: [what, id, rested],
    enabled: works && asked !== null && asked.length > 0,
    queryFn: async () => {
      const answers = await ask(id, asked ?? []);
      return new Map((asked ?? []).flatMap((each, i) => entry(nameOf(each), answers[i])));
    },
    placeholderData: keepPreviousData,
    refetchInterval: ({ state }) =>
      [...(state.data?.values() ?? [])].some(({ figures, job }) => !figures && job?.state !== 'failed')
        ? whileNotTold(ASK_MS) || STILL_WANTED_MS
        : false,
  }).data;
}

const entry = <A>(name: string, answer: A | undefined): (readonly [string, A])[] =>
  answer ? [[name, answer]] : [];

/** Of answers those that are there, by the name of what they answer. */
export const figuresIn = <F>(
  answers: ReadonlyMap<string, { readonly figures: F | null }> | undefined,
): ReadonlyMap<string, F> =>
  new Map(
    [...(answers ?? [])].flatMap(([name, { figures }]): [string, F][] => (figures ? [[name, figures]] : [])),
  );
