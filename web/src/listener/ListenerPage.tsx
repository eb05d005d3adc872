import { ApiFailure, CONTRACT, type ListeningPageRecord } from '@oiseau/api';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect, useState, type FormEvent } from 'react';
import { Button, Form } from 'react-bootstrap';
import { useParams } from 'react-router';
import { call, onSignedOut } from '../api/client.js';
import { LonePlayerProvider } from '../album/PlayerContext.js';
import { secretInAddress } from '../proof/listener-address.js';
import { Listening } from './Listening.js';
import { Loading } from '../ui/Loading.js';
import { t } from '../ui/messages.js';

/** Comes in by the session that this browser has of the address, or else by the secret in it. */
async function comeIn(id: string, password: string | null): Promise<ListeningPageRecord> {
  const params = { id };
  const secret = secretInAddress(window.location.hash);
  try {
    return await call(CONTRACT.listeningPage, { params });
  } catch (error) {
    if (!(error instanceof ApiFailure && error.status === 401) || secret === null) throw error;
  }
  await call(CONTRACT.signInListener, { params, body: { secret, password } });
  return call(CONTRACT.listeningPage, { params });
}

const whyNot = (error: unknown): unknown => (error instanceof ApiFailure ? error.details.why : undefined);

/** The page of an invited listener: one delivery, and nothing else. */
export function ListenerPage() {
  const { id = '' } = useParams();
  const queries = useQueryClient();
  const [password, setPassword] = useState<string | null>(null);
  const { data, error, isFetching } = useQuery({
    queryKey: ['listening', id, password],
    queryFn: () => comeIn(id, password),
    retry: false,
    staleTime: Infinity,
  });
  const title = data?.title ?? '';
  useEffect(() => {
    if (data) document.title = t('{title} – listening copy', { title: title || t('Untitled') });
  }, [data, title]);
  // A listener whose link is revoked while the page is open learns it with the next action.
  useEffect(
    () => data && onSignedOut(() => void queries.invalidateQueries({ queryKey: ['listening', id] })),
    [data, queries, id],
  );
  const why = whyNot(error);
  if (why === 'password' || why === 'wrong-password')
    return (
      <main className="sign-in-page">
        <PasswordForm
          wrong={why === 'wrong-password'}
          asking={isFetching}
          onPassword={(given) => {
            if (given === password) void queries.invalidateQueries({ queryKey: ['listening', id] });
            else setPassword(given);
          }}
        />
      </main>
    );
  if (error)
    return (
      <main className="lone-message">
        <p role="alert">{error.message}</p>
      </main>
    );
  if (!data)
    return (
      <main className="lone-message">
        <Loading>{t('Signing in')}</Loading>
      </main>
    );
  return (
    <LonePlayerProvider>
      <Listening id={id} page={data} />
    </LonePlayerProvider>
  );
}

function PasswordForm({
  wrong,
  asking,
  onPassword,
}: {
  readonly wrong: boolean;
  readonly asking: boolean;
  readonly onPassword: (password: string) => void;
}) {
  const [text, setText] = useState('');
  const send = (event: FormEvent): void => {
    event.preventDefault();
    onPassword(text);
  };
  return (
    <Form className="sign-in" onSubmit={send}>
      <h1 className="h3">{t('Listening copy')}</h1>
      <p>{t('Enter the password you were given with this link.')}</p>
      <Form.Group controlId="listener-password">
        <Form.Label>{t('Password')}</Form.Label>
        <Form.Control
          type="password"
          autoComplete="off"
          autoFocus
          value={text}
          isInvalid={wrong && !asking}
          onChange={({ target }) => setText(target.value)}
        />
        <Form.Control.Feedback type="invalid">
          {t('That password isn’t right. Try again.')}
        </Form.Control.Feedback>
      </Form.Group>
      <Button type="submit" className="mt-3" disabled={asking || text === ''}>
        {asking ? t('Checking …') : t('Listen')}
      </Button>
    </Form>
  );
}
