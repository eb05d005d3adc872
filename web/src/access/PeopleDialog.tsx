import { CONTRACT, type KeyRecord, type ShelfEntry } from '@oiseau/api';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { UserX } from 'lucide-react';
import { useState } from 'react';
import { Modal } from 'react-bootstrap';
import { Link } from 'react-router';
import { call } from '../api/client.js';
import { useAllAlbums } from '../api/queries.js';
import { formatWhen } from '../ui/format.js';
import { IconButton } from '../ui/IconButton.js';
import { useNotices } from '../ui/Notices.js';
import { addressWithKey } from './key-link.js';
import { sessionQuery } from './session.js';
import { NewAddress } from './NewAddress.js';
import { NewKeyForm } from './NewKeyForm.js';
import { ROLE_WORDS } from './roles.js';
import { useVisitor } from './VisitorContext.js';
import { t } from '../ui/messages.js';

const keysKey = ['keys'] as const;

/** People with access: list, give access, revoke. */
export function PeopleDialog({ show, onHide }: { show: boolean; onHide: () => void }) {
  const visitor = useVisitor();
  const queries = useQueryClient();
  const { tell, complain } = useNotices();
  const albums = useAllAlbums().data ?? [];
  const keys = useQuery({ queryKey: keysKey, queryFn: () => call(CONTRACT.keys, {}), enabled: show });
  const [made, setMade] = useState<{ name: string; address: string } | null>(null);
  const [first, ...others] = keys.data ?? [];
  const refresh = async (): Promise<void> => {
    await queries.invalidateQueries({ queryKey: keysKey });
    await queries.invalidateQueries({ queryKey: sessionQuery.queryKey });
  };
  const make = async (wanted: Pick<KeyRecord, 'name' | 'role' | 'albums'>, own: string): Promise<void> => {
    if (own !== '' && first) await call(CONTRACT.nameKey, { params: first, body: { name: own } });
    const { key } = await call(CONTRACT.makeKey, { body: wanted });
    setMade({ name: wanted.name, address: addressWithKey(window.location.origin, key) });
    await refresh();
  };
  const takeBack = async ({ id, name }: KeyRecord): Promise<void> => {
    await call(CONTRACT.takeBackKey, { params: { id } });
    await refresh();
    tell(t('{name}’s access was revoked.', { name }));
  };
  const hide = (): void => {
    setMade(null);
    onHide();
  };
  return (
    <Modal show={show} onHide={hide} size="lg" aria-labelledby="people-title">
      <Modal.Header closeButton>
        <Modal.Title id="people-title">{visitor.shared ? t('Access') : t('Give access')}</Modal.Title>
      </Modal.Header>
      <Modal.Body>
        {others.length > 0 && (
          <table className="table people">
            <thead>
              <tr>
                <th>{t('Name')}</th>
                <th>{t('Role')}</th>
                <th>{t('Albums')}</th>
                <th>{t('Last seen')}</th>
                <th aria-label={t('Revoke')} />
              </tr>
            </thead>
            <tbody>
              {others.map((key) => (
                <tr key={key.id}>
                  <th scope="row">{key.name}</th>
                  <td>{ROLE_WORDS[key.role].name}</td>
                  <td>{albumWords(key, albums)}</td>
                  <td>{key.seenAt ? formatWhen(key.seenAt, new Date()) : t('never')}</td>
                  <td>
                    <IconButton
                      icon={UserX}
                      label={t('Revoke {name}’s access', { name: key.name })}
                      onClick={() => takeBack(key).catch(complain)}
                    />
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        )}
        {made ? (
          <NewAddress {...made} next={t('Give access to another person')} onNext={() => setMade(null)} />
        ) : (
          <>
            {others.length > 0 && <h3 className="h6">{t('Another person')}</h3>}
            <NewKeyForm albums={albums} askOwnName={visitor.first && visitor.name === ''} onMake={make} />
          </>
        )}
      </Modal.Body>
      <Modal.Footer>
        <Link to="/events" onClick={hide}>
          {t('Activity')}
        </Link>
      </Modal.Footer>
    </Modal>
  );
}

function albumWords({ albums: ids }: KeyRecord, albums: readonly ShelfEntry[]): string {
  if (ids === null) return 'all';
  const titles = albums.filter(({ id }) => ids.includes(id)).map(({ title }) => title || t('Untitled album'));
  return titles.join(', ') || 'none';
}
