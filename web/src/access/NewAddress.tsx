import { Check, Copy } from 'lucide-react';
import { useState } from 'react';
import { Button, Form } from 'react-bootstrap';

const LOOPBACK = ['localhost', '127.0.0.1', '[::1]'];

/** An address for somebody that opens something: it is shown this once. */
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
    <section aria-label="New link">
      <p>
        Send this link to <strong>{name}</strong> over a private channel. It is shown only once.
      </p>
      <div className="new-address">
        <Form.Control
          readOnly
          aria-label={`Link for ${name}`}
          value={address}
          onFocus={({ target }) => target.select()}
        />
        <Button variant="outline-primary" onClick={copy}>
          <Icon size={16} aria-hidden /> {copied ? 'Copied' : 'Copy'}
        </Button>
      </div>
      {LOOPBACK.includes(window.location.hostname) && (
        <p className="mt-2 mb-0 text-secondary">
          This link works on this computer only ({window.location.hostname}). To open Oiseau to other
          computers, see docs/security.md.
        </p>
      )}
      <Button variant="link" className="mt-2 ps-0" onClick={onNext}>
        {next}
      </Button>
    </section>
  );
}
