import { CONTRACT, type DeliveryRecord, type InvitationRecord } from '@oiseau/api';
import { useQuery, useQueryClient, type UseQueryResult } from '@tanstack/react-query';
import { Ear } from 'lucide-react';
import { useState } from 'react';
import { Button } from 'react-bootstrap';
import { useAlbum } from '../album/AlbumContext.js';
import { call } from '../api/client.js';
import { useNotices } from '../ui/Notices.js';
import { invitationWords } from './invitation-words.js';
import { InviteDialog } from './InviteDialog.js';
import { t } from '../ui/messages.js';

export const invitationsKey = (albumId: string) => ['invitations', albumId] as const;

/** Who may listen to something of an album without a key, the newest first. */
export function useInvitations(albumId: string, enabled = true): UseQueryResult<InvitationRecord[]> {
  return useQuery({
    enabled,
    queryKey: invitationsKey(albumId),
    queryFn: () => call(CONTRACT.invitations, { params: { id: albumId } }),
  });
}

/** Takes an invitation back, and says so. */
export function useTakeInvitationBack(): (invitation: InvitationRecord) => void {
  const { id: albumId } = useAlbum('id');
  const queries = useQueryClient();
  const { tell, complain } = useNotices();
  return ({ id, name }) => {
    call(CONTRACT.takeBackInvitation, { params: { id } })
      .then(() => queries.invalidateQueries({ queryKey: invitationsKey(albumId) }))
      .then(() => tell(t('The link of {name} was revoked.', { name })), complain);
  };
}

/** Who may listen to a delivery, one more, and one taken back. */
export function Listeners({ delivery }: { readonly delivery: DeliveryRecord }) {
  const { id: albumId } = useAlbum('id');
  const queries = useQueryClient();
  const takeBack = useTakeInvitationBack();
  const [asks, setAsks] = useState(false);
  const invitations = useInvitations(albumId).data ?? [];
  const own = invitations.filter(({ deliveryId }) => deliveryId === delivery.id);
  const now = new Date();
  return (
    <>
      {own.length > 0 && (
        <ul aria-label={t('Listeners')}>
          {own.map((invitation) => {
            const { words, isOpen } = invitationWords(invitation, now);
            return (
              <li key={invitation.id}>
                <Ear size={18} aria-hidden />
                <span>
                  <strong>{invitation.name}</strong> <span className="text-secondary">{words}</span>{' '}
                  {isOpen && (
                    <button
                      type="button"
                      className="link-button"
                      aria-label={t('Revoke the link of {name}', { name: invitation.name })}
                      onClick={() => takeBack(invitation)}
                    >
                      {t('Revoke')}
                    </button>
                  )}
                </span>
              </li>
            );
          })}
        </ul>
      )}
      {delivery.clearedAt === null && (
        <Button size="sm" variant="outline-primary" onClick={() => setAsks(true)}>
          <Ear size={16} aria-hidden /> {t('Share for approval')}
        </Button>
      )}
      <InviteDialog
        show={asks}
        delivery={delivery}
        known={invitations}
        onDone={() => queries.invalidateQueries({ queryKey: invitationsKey(albumId) })}
        onHide={() => setAsks(false)}
      />
    </>
  );
}
