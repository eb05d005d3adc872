import { useState, type FormEvent } from 'react';
import { Button, Form } from 'react-bootstrap';
import { ApiFailure } from '@oiseau/api';
import { keyInText } from './key-link.js';
import { t } from '../ui/messages.js';

interface SignInProps {
  readonly onKey: (key: string) => Promise<void>;
  /** There was a session before. */
  readonly again?: boolean;
}

/** Asks for a key. */
export function SignIn({ onKey, again = false }: SignInProps) {
  const [text, setText] = useState('');
  const [failure, setFailure] = useState<string | null>(null);
  const [asking, setAsking] = useState(false);
  const send = (event: FormEvent): void => {
    event.preventDefault();
    setAsking(true);
    setFailure(null);
    onKey(keyInText(text))
      .catch((error: unknown) => setFailure(sentenceOf(error)))
      .finally(() => setAsking(false));
  };
  return (
    <Form className="sign-in" onSubmit={send}>
      <h1 id="sign-in-title" className="h3">
        {again ? t('You have been signed out') : 'Oiseau'}
      </h1>
      <p>
        {again
          ? t('Your last edits are kept in this window and saved when you sign in again.')
          : t('You need a link to open Oiseau.')}{' '}
        {t(
          'Open the link you were given, or the one Oiseau printed when it started. You can also paste it here.',
        )}
      </p>
      <Form.Group controlId="sign-in-key">
        <Form.Label>{t('Link')}</Form.Label>
        <Form.Control
          type="password"
          autoComplete="off"
          autoFocus
          value={text}
          isInvalid={failure !== null}
          onChange={({ target }) => setText(target.value)}
        />
        <Form.Control.Feedback type="invalid">{failure}</Form.Control.Feedback>
      </Form.Group>
      <Button type="submit" className="mt-3" disabled={asking || text.trim() === ''}>
        {asking ? t('Signing in …') : t('Sign in')}
      </Button>
    </Form>
  );
}

/** The server’s 401 asks for a key; here a key was given, and it was wrong. */
function sentenceOf(error: unknown): string {
  if (error instanceof ApiFailure && error.status === 401)
    return t('That link isn’t valid. Check that you pasted all of it.');
  return error instanceof Error ? error.message : t('Signing in failed. Try again.');
}
