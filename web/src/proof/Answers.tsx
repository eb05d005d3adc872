import { CONTRACT, type AnswerRecord, type DeliveryRecord } from '@oiseau/api';
import { answerSchema } from '@oiseau/formats/papers';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { FileInput as FileIcon, PencilLine, Stamp } from 'lucide-react';
import { useRef } from 'react';
import { Button } from 'react-bootstrap';
import { useMay } from '../access/VisitorContext.js';
import { call } from '../api/client.js';
import { FileInput } from '../ui/FileInput.js';
import { formatDate } from '../ui/format.js';
import { useNotices } from '../ui/Notices.js';
import { Listeners } from './Listeners.js';
import { t } from '../ui/messages.js';

/** Bytes of an answer; a larger file is none. */
const MOST_ANSWER = 1_000_000;

/** Who may listen to a delivery, and what they answered; an answer that was sent back as a file is taken in here. */
export function Answers({ delivery }: { readonly delivery: DeliveryRecord }) {
  const { id } = delivery;
  const works = useMay('work');
  const queries = useQueryClient();
  const { tell, complain } = useNotices();
  const input = useRef<HTMLInputElement>(null);
  const key = ['answers', id];
  const { data: answers = [] } = useQuery({
    queryKey: key,
    queryFn: () => call(CONTRACT.answers, { params: { id } }),
  });
  const take = async (file: File): Promise<void> => {
    const body = await readAnswer(file);
    await call(CONTRACT.takeAnswer, { params: { id }, body });
    await queries.invalidateQueries({ queryKey: ['answers'] });
    await queries.invalidateQueries({ queryKey: ['notes', id] });
    tell(t('The response and notes of {name} were imported.', { name: body.name }));
  };
  return (
    <div className="answers">
      <ul aria-label={t('Listener responses')}>
        {answers.map((answer) => (
          <AnswerLine key={answer.id} answer={answer} />
        ))}
      </ul>
      {works && (
        <>
          <Listeners delivery={delivery} />
          <Button size="sm" variant="outline-primary" onClick={() => input.current?.click()}>
            <FileIcon size={16} aria-hidden /> {t('Import a response')}
          </Button>
          <FileInput
            ref={input}
            label={t('Response file')}
            accept=".json"
            onFile={(file) => take(file).catch(complain)}
          />
        </>
      )}
    </div>
  );
}

/** @throws Error in a sentence for a file that is no answer */
async function readAnswer(file: File) {
  const none = new Error(t('“{name}” isn’t a response from a listening copy.', { name: file.name }));
  if (file.size > MOST_ANSWER) throw none;
  try {
    return answerSchema.parse(JSON.parse(await file.text()));
  } catch (cause) {
    throw Object.assign(none, { cause });
  }
}

function AnswerLine({ answer: { name, verdict, words, at, files } }: { readonly answer: AnswerRecord }) {
  const approved = verdict === 'approved';
  const Icon = approved ? Stamp : PencilLine;
  return (
    <li className={approved ? 'approved' : 'change'}>
      <Icon size={18} aria-hidden />
      <span>
        <strong>
          {approved ? t('Approved by {name}', { name }) : t('{name} requested a change', { name })}
        </strong>
        , {formatDate(at)}
        {words && `: “${words}”`}
        <span className="only-printed sum">
          {files.map(({ path, sha256 }) => `${path}: SHA-256 ${sha256}`).join('; ')}
        </span>
      </span>
    </li>
  );
}
