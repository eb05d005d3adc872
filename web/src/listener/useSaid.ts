import { CONTRACT, type AnswerOf, type ListenerNote } from '@oiseau/api';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { call } from '../api/client.js';
import { useNotices } from '../ui/Notices.js';

type Everything = AnswerOf<typeof CONTRACT.listenerSaid>;

/** What a listener has noted and answered, and the ways to say more. */
export interface Said extends Everything {
  /** The id of the note that was made last: its words are about to be typed. */
  readonly newest: string | null;
  add(place: Pick<ListenerNote, 'path' | 'seconds'>): void;
  /** @throws ApiFailure */
  write(note: string, text: string): Promise<void>;
  remove(note: string): void;
  /** @throws ApiFailure */
  answer(verdict: 'approved' | 'change', words: string): Promise<void>;
}

export function useSaid(id: string): Said {
  const queries = useQueryClient();
  const { complain } = useNotices();
  const [newest, setNewest] = useState<string | null>(null);
  const queryKey = ['listener said', id];
  const { data } = useQuery({
    queryKey,
    queryFn: () => call(CONTRACT.listenerSaid, { params: { id } }),
  });
  const refresh = (): Promise<void> => queries.invalidateQueries({ queryKey });
  return {
    notes: data?.notes ?? [],
    answers: data?.answers ?? [],
    newest,
    add: (place) => {
      call(CONTRACT.addListenerNote, { params: { id }, body: { ...place, text: '' } }).then((note) => {
        setNewest(note.id);
        return refresh();
      }, complain);
    },
    // What is under way when the page is closed still arrives.
    write: (note, text) =>
      call(CONTRACT.writeListenerNote, { params: { id, note }, body: { text } }, { keepalive: true }),
    remove: (note) =>
      void call(CONTRACT.removeListenerNote, { params: { id, note } }).then(refresh, complain),
    answer: async (verdict, words) => {
      await call(CONTRACT.answerAsListener, { params: { id }, body: { verdict, words } });
      await refresh();
    },
  };
}
