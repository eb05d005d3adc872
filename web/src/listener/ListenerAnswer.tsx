import { PencilLine, Stamp } from 'lucide-react';
import { useState, type FormEvent } from 'react';
import { Button, Form } from 'react-bootstrap';
import { formatDate } from '../ui/format.js';
import { useStored } from '../ui/useStored.js';
import type { Said } from './useSaid.js';
import { t } from '../ui/messages.js';

type Verdict = 'approved' | 'change';
const VERDICTS: Readonly<Record<Verdict, string>> = {
  approved: t('Approve'),
  change: t('Request a change'),
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
      setFailure(t('Do you approve this, or would you like a change?'));
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
    <section aria-label={t('Your response')}>
      <h2>{t('Your response')}</h2>
      {said.answers.length > 0 && <Answers said={said} revision={revision} />}
      <Form onSubmit={send}>
        <fieldset>
          <legend className="visually-hidden">{t('Do you approve?')}</legend>
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
          <Form.Label>{t('Comment')}</Form.Label>
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
          {asking
            ? t('Sending …')
            : said.answers.length > 0
              ? t('Send another response')
              : t('Send response')}
        </Button>{' '}
        <span className="text-secondary">{notedWords(said.notes.length)}</span>
      </Form>
    </section>
  );
}

function notedWords(notes: number): string {
  if (notes === 0) return '';
  return t('{notes, plural, one {Your note has been sent.} other {Your # notes have been sent.}}', { notes });
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
                  ? t('You approved revision {revision}', { revision })
                  : t('You requested a change to revision {revision}', { revision })}
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
