import { CONTRACT, LONGEST_INVITATION_DAYS, type DeliveryRecord, type InvitationRecord } from '@oiseau/api';
import { useState, type FormEvent } from 'react';
import { Button, Form, Modal } from 'react-bootstrap';
import { NewAddress } from '../access/NewAddress.js';
import { call } from '../api/client.js';
import { useStored } from '../ui/useStored.js';
import { addressOfInvitation } from './listener-address.js';
import { t } from '../ui/messages.js';

/** Default validity of a link, days. */
const USUAL_DAYS = 14;
const DAY_MS = 86_400_000;

const pad = (value: number): string => String(value).padStart(2, '0');
/** A day so many days ahead as a date field has it. */
function dayAhead(days: number): string {
  const date = new Date(Date.now() + days * DAY_MS);
  return `${date.getFullYear()}-${pad(date.getMonth() + 1)}-${pad(date.getDate())}`;
}

interface InviteDialogProps {
  readonly show: boolean;
  readonly delivery: DeliveryRecord;
  /** All invitations of the album, the newest first. */
  readonly known: readonly InvitationRecord[];
  readonly onDone: () => Promise<void>;
  readonly onHide: () => void;
}

/** Who is to listen to a delivery, until when, and behind which password; then the address, once. */
export function InviteDialog({ show, delivery, known, onDone, onHide }: InviteDialogProps) {
  const [made, setMade] = useState<{ name: string; address: string } | null>(null);
  const hide = (): void => {
    setMade(null);
    onHide();
  };
  return (
    <Modal show={show} onHide={hide} aria-labelledby="invite-title">
      <Modal.Header closeButton>
        <Modal.Title id="invite-title">
          {t('Share for approval: {name}, revision {revision}', {
            name: delivery.deliverable.name,
            revision: delivery.revision,
          })}
        </Modal.Title>
      </Modal.Header>
      <Modal.Body>
        {made ? (
          <NewAddress {...made} next={t('Share with another listener')} onNext={() => setMade(null)} />
        ) : (
          <InviteForm
            delivery={delivery}
            known={known}
            onMade={async (name, address) => {
              setMade({ name, address });
              await onDone();
            }}
          />
        )}
      </Modal.Body>
    </Modal>
  );
}

interface InviteFormProps {
  readonly delivery: DeliveryRecord;
  readonly known: readonly InvitationRecord[];
  readonly onMade: (name: string, address: string) => Promise<void>;
}

/** An invitation that is being written, and the way to send it. */
function useInvitation({ delivery, known, onMade }: InviteFormProps) {
  // One entry for each listener, with the revision that they heard last.
  const listeners = known.filter(
    ({ listener }, i) => known.findIndex((each) => each.listener === listener) === i,
  );
  const [listener, setListener] = useState<string | null>(null);
  const [name, setName] = useState('');
  const [day, setDay] = useState(dayAhead(USUAL_DAYS));
  const [password, setPassword] = useState('');
  const [failure, setFailure] = useState<string | null>(null);
  const [asking, setAsking] = useState(false);
  const [by] = useStored('oiseau-asked-by', '');
  const chosen = listeners.find((each) => each.listener === listener);
  const send = async (): Promise<void> => {
    const [year = 0, month = 1, date = 1] = day.split('-').map(Number);
    const { id, secret } = await call(CONTRACT.invite, {
      params: { id: delivery.id },
      body: {
        ...{ name: chosen?.name ?? name, listener, by },
        // The whole of that day belongs to it.
        endsAt: new Date(year, month - 1, date, 23, 59, 59).toISOString(),
        password: password === '' ? null : password,
      },
    });
    await onMade(chosen?.name ?? name, addressOfInvitation(window.location.origin, id, secret));
  };
  const submit = (event: FormEvent): void => {
    event.preventDefault();
    setFailure(null);
    setAsking(true);
    send()
      .catch((error: unknown) => setFailure(error instanceof Error ? error.message : String(error)))
      .finally(() => setAsking(false));
  };
  return {
    ...{ listeners, listener, setListener, chosen, name, setName, day, setDay, password, setPassword },
    ...{ failure, submit },
    canSend: !asking && (chosen !== undefined || name.trim() !== ''),
  };
}
type Draft = ReturnType<typeof useInvitation>;

function InviteForm(props: InviteFormProps) {
  const draft = useInvitation(props);
  const { failure, submit, canSend } = draft;
  return (
    <Form className="invite" onSubmit={submit}>
      <p className="text-secondary">
        {t(
          'The listener gets a page with the artwork, the tracks and the rendered files. They can add notes and approve or request a change. The link gives access to nothing else.',
        )}
      </p>
      <ListenerFields draft={draft} />
      <AddressFields draft={draft} />
      {failure !== null && (
        <p role="alert" className="text-danger">
          {failure}
        </p>
      )}
      <Button type="submit" disabled={!canSend}>
        {t('Create link')}
      </Button>
    </Form>
  );
}

/** The listener: a known one, or a new one. */
function ListenerFields({ draft }: { draft: Draft }) {
  const { listeners, listener, setListener, chosen, name, setName } = draft;
  return (
    <>
      {listeners.length > 0 && (
        <Form.Group controlId="invite-listener">
          <Form.Label>{t('Who')}</Form.Label>
          <Form.Select
            value={listener ?? ''}
            onChange={({ target }) => setListener(target.value === '' ? null : target.value)}
          >
            <option value="">{t('New listener')}</option>
            {listeners.map((each) => (
              <option key={each.listener} value={each.listener}>
                {t('{name}, who had revision {revision}', { name: each.name, revision: each.revision })}
              </option>
            ))}
          </Form.Select>
          {chosen && (
            <Form.Text>
              {t('{name} will see the status of the notes on earlier revisions.', { name: chosen.name })}
            </Form.Text>
          )}
        </Form.Group>
      )}
      {!chosen && (
        <Form.Group controlId="invite-name">
          <Form.Label>{t('Name')}</Form.Label>
          <Form.Control
            required
            autoFocus
            maxLength={200}
            value={name}
            onChange={({ target }) => setName(target.value)}
          />
        </Form.Group>
      )}
    </>
  );
}

/** Until when the address is open, and behind which password. */
function AddressFields({ draft: { day, setDay, password, setPassword } }: { draft: Draft }) {
  return (
    <>
      <Form.Group controlId="invite-day">
        <Form.Label>{t('Valid through')}</Form.Label>
        <Form.Control
          required
          type="date"
          min={dayAhead(0)}
          max={dayAhead(LONGEST_INVITATION_DAYS - 1)}
          value={day}
          onChange={({ target }) => setDay(target.value)}
        />
      </Form.Group>
      <Form.Group controlId="invite-password">
        <Form.Label>{t('Password (optional)')}</Form.Label>
        <Form.Control
          type="text"
          autoComplete="off"
          minLength={4}
          maxLength={200}
          value={password}
          onChange={({ target }) => setPassword(target.value)}
        />
        <Form.Text>{t('Required to open the link. Send it separately.')}</Form.Text>
      </Form.Group>
    </>
  );
}
