import { Download, Ear, PencilLine, Stamp } from 'lucide-react';
import { Link } from 'react-router';
import { useAlbum } from '../album/AlbumContext.js';
import { invitationWords } from '../proof/invitation-words.js';
import { useTakeInvitationBack } from '../proof/Listeners.js';
import { formatBytes, formatDate, formatWhen } from '../ui/format.js';
import type { Entry } from './history.js';
import { t } from '../ui/messages.js';

type Of<What extends Entry['what']> = Extract<Entry, { readonly what: What }>;

/** A moment on the screen, and on paper, on which no day is today. */
export function Moment({ at }: { readonly at: string }) {
  return (
    <>
      <span className="not-printed">{formatWhen(at, new Date())}</span>
      <span className="only-printed">{formatDate(at)}</span>
    </>
  );
}

/** An invited listener. */
export function InvitationLine({ entry: { invitation } }: { readonly entry: Of<'invitation'> }) {
  const { id: albumId } = useAlbum('id');
  const takeBack = useTakeInvitationBack();
  const { deliverable, deliveryId, revision, name, createdAt, askedBy } = invitation;
  const { words, isOpen } = invitationWords(invitation, new Date());
  return (
    <li className={`handed ${isOpen ? 'busy' : 'still'}`}>
      <Ear size={18} aria-hidden />
      <span className="handed-name">
        <strong>{t('r{revision}', { revision })}</strong> {deliverable} → {name}
      </span>
      <span className="handed-state">{t('invited to listen')}</span>
      <span className="handed-news">
        <span className="text-secondary">
          <Moment at={createdAt} />
          {askedBy && `, by ${askedBy}`}; {words}
        </span>
      </span>
      <span className="handed-actions">
        <Link to={`/albums/${albumId}/proof?delivery=${deliveryId}`}>{t('Notes')}</Link>
        {isOpen && (
          <button type="button" className="link-button" onClick={() => takeBack(invitation)}>
            {t('Revoke link')}
          </button>
        )}
      </span>
    </li>
  );
}

/** A listener's response. */
export function AnswerLine({ entry: { answer } }: { readonly entry: Of<'answer'> }) {
  const { id: albumId } = useAlbum('id');
  const { deliverable, deliveryId, revision, name, verdict, words, at } = answer;
  const approved = verdict === 'approved';
  const Icon = approved ? Stamp : PencilLine;
  return (
    <li className={`handed ${approved ? 'good' : 'bad'}`}>
      <Icon size={18} aria-hidden />
      <span className="handed-name">
        <strong>{t('r{revision}', { revision })}</strong> {deliverable} ← {name}
      </span>
      <span className="handed-state">{approved ? t('approved') : t('requested a change')}</span>
      <span className="handed-news">
        {words !== '' && <span>“{words}”</span>}
        <span className="text-secondary">
          <Moment at={at} />
        </span>
      </span>
      <span className="handed-actions">
        <Link to={`/albums/${albumId}/proof?delivery=${deliveryId}`}>{t('Show in Proof')}</Link>
      </span>
    </li>
  );
}

/** Files downloaded by a person with access. */
export function DownloadLine({ entry: { event } }: { readonly entry: Of<'download'> }) {
  const { detail, who, at, bytes } = event;
  return (
    <li className="handed still download">
      <Download size={18} aria-hidden />
      <span className="handed-name">{detail}</span>
      <span className="handed-state">{t('downloaded')}</span>
      <span className="handed-news">
        <span className="text-secondary">
          <Moment at={at} />
          {`, ${t('by {who}', { who: who || t('administrator') })}${bytes === null ? '' : `, ${formatBytes(bytes)}`}`}
        </span>
      </span>
      <span className="handed-actions" />
    </li>
  );
}
