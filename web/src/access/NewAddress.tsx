import { Check, Copy } from 'lucide-react';
import { useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import { rich, t } from '../ui/messages.js';

const LOOPBACK = ['localhost', '127.0.0.1', '[::1]'];

/** A new access link, which is shown only once. */
export function NewAddress({
  name,
  address,
  next,
  onNext,
}: {
  readonly name: string;
  readonly address: string;
  /** What is done after it. */
  readonly next: string;
  readonly onNext: () => void;
}) {
  const [copied, setCopied] = useState(false);
  const copy = (): void => {
    navigator.clipboard.writeText(address).then(
      () => setCopied(true),
      () => undefined,
    );
  };
  const Icon = copied ? Check : Copy;
  return (
    <section aria-label={t('New link')}>
      <p>
        {rich(
          'Send this link to <b>{name}</b> over a private channel. It is shown only once.',
          { b: <strong /> },
          { name },
        )}
      </p>
      <div className="new-address">
        <Form.Control
          readOnly
          aria-label={t('Link for {name}', { name })}
          value={address}
          onFocus={({ target }) => target.select()}
        />
        <Button variant="outline-primary" onClick={copy}>
          <Icon size={16} aria-hidden /> {copied ? t('Copied') : t('Copy')}
        </Button>
      </div>
      {LOOPBACK.includes(window.location.hostname) && (
        <p className="mt-2 mb-0 text-secondary">
          {t(
            'This link works on this computer only ({hostname}). To open Oiseau to other computers, see docs/security.md.',
            { hostname: window.location.hostname },
          )}
        </p>
      )}
      <Button variant="link" className="mt-2 ps-0" onClick={onNext}>
        {next}
      </Button>
    </section>
  );
}
