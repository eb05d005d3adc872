import { useState, type FormEvent } from 'react';
import { Button, Form } from 'react-bootstrap';
import { keyInText } from './entrance.js';

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
      .catch((error: unknown) =>
        setFailure(error instanceof Error ? wrong(error.message) : 'That did not work.'),
      )
      .finally(() => setAsking(false));
  };
  return (
    <Form className="sign-in" onSubmit={send}>
      <h1 id="sign-in-title" className="h3">
        {again ? 'You are not signed in any more' : 'Oiseau'}
      </h1>
      <p>
        {again
          ? 'What you did last stays in this window and is saved as soon as you are back. '
          : 'This place is locked. '}
        Open the address that you were given, or that Oiseau printed when it started; or paste it here.
      </p>
      <Form.Group controlId="sign-in-key">
        <Form.Label>The address</Form.Label>
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
        {asking ? 'Looking …' : 'Come in'}
      </Button>
    </Form>
  );
}

/** The server’s sentence is for somebody who has shown nothing; here a key was shown. */
const wrong = (message: string): string =>
  message.startsWith('A key is needed') ? 'Nothing opens to that. Is it the whole address?' : message;
