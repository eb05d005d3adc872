import { PencilLine, Stamp } from 'lucide-react';
import { useState, type FormEvent } from 'react';
import { Button, Form } from 'react-bootstrap';
import { formatDate } from '../ui/format.js';
import { useStored } from '../ui/useStored.js';
import type { Said } from './useSaid.js';

type Verdict = 'approved' | 'change';
const VERDICTS: Readonly<Record<Verdict, string>> = {
  approved: 'Approve',
  change: 'Request a change',
};

/** An answer that is being written. @param id of the invitation */
function useAnswer(id: string, said: Said) {
  // Words that are not sent yet outlive the page.
  const [draft, setDraft] = useStored<{ verdict: Verdict | null; words: string }>(`oiseau-answer-${id}`, {
    verdict: null,
    words: '',
  });
  const [asking, setAsking] = useState(false);
  const [failure, setFailure] = useState<string | null>(null);
  const send = async (event: FormEvent): Promise<void> => {
    event.preventDefault();
    if (draft.verdict === null) {
      setFailure('Do you approve this, or would you like a change?');
      return;
    }
    setAsking(true);
    setFailure(null);
    try {
      await said.answer(draft.verdict, draft.words.trim());
      setDraft({ verdict: null, words: '' });
    } catch (error) {
      setFailure(error instanceof Error ? error.message : String(error));
    } finally {
      setAsking(false);
    }
  };
  return { draft, setDraft, asking, failure, send: (event: FormEvent) => void send(event) };
}

/** One answer: approved, or please change, with words. What was answered stays in sight. */
export function ListenerAnswer({
  id,
  said,
  revision,
}: {
  readonly id: string;
  readonly said: Said;
  readonly revision: number;
}) {
  const { draft, setDraft, asking, failure, send } = useAnswer(id, said);
  return (
    <section aria-label="Your response">
      <h2>Your response</h2>
      {said.answers.length > 0 && <Answers said={said} revision={revision} />}
      <Form onSubmit={send}>
        <fieldset>
          <legend className="visually-hidden">Do you approve?</legend>
          {(Object.keys(VERDICTS) as Verdict[]).map((verdict) => (
            <Form.Check
              key={verdict}
              type="radio"
              name="verdict"
              id={`verdict-${verdict}`}
              label={VERDICTS[verdict]}
              checked={draft.verdict === verdict}
              onChange={() => setDraft({ ...draft, verdict })}
            />
          ))}
        </fieldset>
        <Form.Group controlId="answer-words">
          <Form.Label>Comment</Form.Label>
          <Form.Control
            as="textarea"
            rows={3}
            maxLength={10_000}
            value={draft.words}
            onChange={({ target }) => setDraft({ ...draft, words: target.value })}
          />
        </Form.Group>
        {failure !== null && (
          <p role="alert" className="text-danger">
            {failure}
          </p>
        )}
        <Button type="submit" disabled={asking}>
          {asking ? 'Sending …' : said.answers.length > 0 ? 'Send another response' : 'Send response'}
        </Button>{' '}
        <span className="text-secondary">{notedWords(said.notes.length)}</span>
      </Form>
    </section>
  );
}

function notedWords(notes: number): string {
  if (notes === 0) return '';
  return notes === 1 ? 'Your note has been sent.' : `Your ${notes} notes have been sent.`;
}

/** What was answered so far. */
function Answers({ said, revision }: { readonly said: Said; readonly revision: number }) {
  return (
    <ul className="listener-answers" role="status">
      {said.answers.map(({ verdict, words, at }) => {
        const Icon = verdict === 'approved' ? Stamp : PencilLine;
        return (
          <li key={at} className={verdict}>
            <Icon size={18} aria-hidden />
            <span>
              <strong>
                {verdict === 'approved'
                  ? `You approved revision ${revision}`
                  : `You requested a change to revision ${revision}`}
              </strong>
              , {formatDate(at)}
              {words !== '' && `: “${words}”`}
            </span>
          </li>
        );
      })}
    </ul>
  );
}
