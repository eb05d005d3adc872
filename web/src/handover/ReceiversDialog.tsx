import { recipientOf } from '@oiseau/api';
import { CONTRACT, RECEIVER_KINDS, type ReceiverKind, type ReceiverRecord } from '@oiseau/api';
import { useQueryClient } from '@tanstack/react-query';
import { Pencil, Trash2 } from 'lucide-react';
import { useState, type FormEvent } from 'react';
import { Button, Form, Modal } from 'react-bootstrap';
import { call } from '../api/client.js';
import { IconButton } from '../ui/IconButton.js';
import { useNotices } from '../ui/Notices.js';
import { receiversKey, useReceivers } from './queries.js';
import { say, t } from '../ui/messages.js';

/** To whom something can be handed over: addresses and tokens. A token that was given is never shown again. */
export function ReceiversDialog({ show, onHide }: { show: boolean; onHide: () => void }) {
  const receivers = useReceivers(show).data ?? [];
  const [edits, setEdits] = useState<ReceiverRecord | null>(null);
  const queries = useQueryClient();
  const { complain } = useNotices();
  const refresh = (): Promise<void> => queries.invalidateQueries({ queryKey: receiversKey });
  const remove = (id: string): void => {
    call(CONTRACT.removeReceiver, { params: { id } }).then(refresh, complain);
  };
  return (
    <Modal show={show} onHide={onHide} size="lg" aria-labelledby="receivers-title">
      <Modal.Header closeButton>
        <Modal.Title id="receivers-title">{t('Recipients')}</Modal.Title>
      </Modal.Header>
      <Modal.Body>
        {receivers.length > 0 && (
          <table className="table people">
            <thead>
              <tr>
                <th>{t('Name')}</th>
                <th>{t('Kind')}</th>
                <th>{t('Address')}</th>
                <th aria-label={t('Edit')} />
              </tr>
            </thead>
            <tbody>
              {receivers.map((receiver) => (
                <tr key={receiver.id}>
                  <th scope="row">{receiver.name}</th>
                  <td>
                    {receiver.standIn
                      ? t('{kind}, simulated', { kind: recipientOf(receiver.kind).label })
                      : say(recipientOf(receiver.kind).label)}
                  </td>
                  <td className="receiver-address">{receiver.url}</td>
                  <td>
                    {!receiver.standIn && (
                      <IconButton
                        icon={Pencil}
                        label={t('Edit {name}', { name: receiver.name })}
                        onClick={() => setEdits(receiver)}
                      />
                    )}
                    <IconButton
                      icon={Trash2}
                      label={t('Remove {name}', { name: receiver.name })}
                      onClick={() => remove(receiver.id)}
                    />
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        )}
        <ReceiverForm
          key={edits?.id ?? 'new'}
          edits={edits}
          onDone={async () => {
            setEdits(null);
            await refresh();
          }}
        />
      </Modal.Body>
    </Modal>
  );
}

function ReceiverForm({
  edits,
  onDone,
}: {
  readonly edits: ReceiverRecord | null;
  readonly onDone: () => Promise<void>;
}) {
  const [kind, setKind] = useState<ReceiverKind>(edits?.kind ?? 'plant');
  const [name, setName] = useState(edits?.name ?? '');
  const [url, setUrl] = useState(edits?.url ?? '');
  const [token, setToken] = useState('');
  const [failure, setFailure] = useState<string | null>(null);
  const save = async (): Promise<void> => {
    if (edits)
      await call(CONTRACT.changeReceiver, {
        params: { id: edits.id },
        body: { name, url, ...(token === '' ? {} : { token }) },
      });
    else await call(CONTRACT.addReceiver, { body: { kind, name, url, token } });
    setName('');
    setUrl('');
    setToken('');
    await onDone();
  };
  const submit = (event: FormEvent): void => {
    event.preventDefault();
    setFailure(null);
    save().catch((error: unknown) => setFailure(error instanceof Error ? error.message : String(error)));
  };
  return (
    <Form className="new-receiver" onSubmit={submit}>
      <h3>{edits ? t('Edit {name}', { name: edits.name }) : t('New recipient')}</h3>
      <div className="new-receiver-fields">
        {!edits && (
          <Form.Group controlId="receiver-kind">
            <Form.Label>{t('Kind')}</Form.Label>
            <Form.Select value={kind} onChange={({ target }) => setKind(target.value as ReceiverKind)}>
              {RECEIVER_KINDS.map((each) => (
                <option key={each} value={each}>
                  {say(recipientOf(each).label)}
                </option>
              ))}
            </Form.Select>
          </Form.Group>
        )}
        <Form.Group controlId="receiver-name">
          <Form.Label>{t('Name')}</Form.Label>
          <Form.Control
            required
            maxLength={100}
            value={name}
            onChange={({ target }) => setName(target.value)}
          />
        </Form.Group>
        <Form.Group controlId="receiver-url">
          <Form.Label>{t('Address')}</Form.Label>
          <Form.Control
            required
            type="url"
            maxLength={500}
            placeholder="https://"
            value={url}
            onChange={({ target }) => setUrl(target.value)}
          />
        </Form.Group>
        <Form.Group controlId="receiver-token">
          <Form.Label>{edits ? t('New token') : t('Token')}</Form.Label>
          <Form.Control
            required={!edits}
            type="password"
            autoComplete="off"
            maxLength={1000}
            value={token}
            onChange={({ target }) => setToken(target.value)}
          />
        </Form.Group>
      </div>
      <p className="text-secondary">{t('The token is sent only to the recipient and isn’t shown again.')}</p>
      {failure && <p className="text-danger">{failure}</p>}
      <Button type="submit" size="sm">
        {edits ? t('Save') : t('Add')}
      </Button>
    </Form>
  );
}
