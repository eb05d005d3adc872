import { CONTRACT } from '@oiseau/api';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect, useState, type ReactNode } from 'react';
import { Modal } from 'react-bootstrap';
import { call, onSignedOut } from '../api/client.js';
import { useChanges } from '../api/useChanges.js';
import { AwayLine } from './AwayLine.js';
import { HealthLine } from './HealthLine.js';
import { keyInAddress } from './key-link.js';
import { sessionQuery } from './session.js';
import { SignIn } from './SignIn.js';
import { VisitorContext } from './VisitorContext.js';
import { Loading } from '../ui/Loading.js';
import { t } from '../ui/messages.js';

const { queryKey: sessionKey } = sessionQuery;

/** Lets in visitors with a session or a key. When a session ends, the visitor signs in again and nothing is lost. */
export function Gate({ children }: { children: ReactNode }) {
  const queries = useQueryClient();
  const session = useQuery(sessionQuery);
  useChanges(session.data?.id);
  const [endedAt, setEndedAt] = useState(0);
  useEffect(() => onSignedOut(() => setEndedAt(Date.now())), []);
  useEffect(() => {
    const another = (): void => {
      if (keyInAddress(window.location.hash) !== null)
        void queries.invalidateQueries({ queryKey: sessionKey });
    };
    window.addEventListener('hashchange', another);
    return () => window.removeEventListener('hashchange', another);
  }, [queries]);
  const letIn = async (key: string): Promise<void> => {
    queries.setQueryData(sessionKey, await call(CONTRACT.signIn, { body: { key } }));
    await queries.invalidateQueries({ predicate: ({ queryKey }) => queryKey !== sessionKey });
  };
  if (session.error)
    return (
      <main className="lone-message">
        <p role="alert">{session.error.message}</p>
      </main>
    );
  if (session.isPending)
    return (
      <main className="lone-message">
        <Loading>{t('Signing in')}</Loading>
      </main>
    );
  if (!session.data)
    return (
      <main className="sign-in-page">
        <SignIn onKey={letIn} />
      </main>
    );
  return (
    <VisitorContext value={session.data}>
      <AwayLine />
      <HealthLine />
      {children}
      <Modal
        show={endedAt > session.dataUpdatedAt}
        backdrop="static"
        keyboard={false}
        aria-labelledby="sign-in-title"
      >
        <Modal.Body>
          <SignIn onKey={letIn} again />
        </Modal.Body>
      </Modal>
    </VisitorContext>
  );
}
