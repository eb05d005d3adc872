import { CONTRACT, isHandoverActive, type HandoverRecord, type ReceiverRecord } from '@oiseau/api';
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Button, ProgressBar } from 'react-bootstrap';
import { Link } from 'react-router';
import { useAlbum } from '../album/AlbumContext.js';
import { call } from '../api/client.js';
import { formatBytes } from '../ui/format.js';
import { useNotices } from '../ui/Notices.js';
import { KIND_ICONS } from './HandOverPane.js';
import type { Entry } from './history.js';
import { AnswerLine, DownloadLine, InvitationLine, Moment } from './OtherLines.js';
import { handoversKey, useAbout, useReceivers } from './queries.js';
import { Receipt } from './Receipt.js';
import { standing, stepToMend } from './words.js';
import { DriveTray } from './WritingForm.js';
import { saySentence, t } from '../ui/messages.js';

const STEP_NAMES = { sleeve: t('Sleeve'), sequence: t('Sequence'), render: t('Render') };

/** Everything that has left and come back, the newest first; downloads when they are asked for, and on paper. */
export function HandoverList({ history }: { readonly history: readonly Entry[] }) {
  const [all, setAll] = useState(false);
  const downloads = history.filter(({ what }) => what === 'download').length;
  if (history.length === 0) return null;
  return (
    <section className={`handovers ${all ? '' : 'without-downloads'}`} aria-label={t('Deliveries')}>
      <h3>{t('Deliveries')}</h3>
      <ul>
        {history.map((entry) => {
          switch (entry.what) {
            case 'handover':
              return <Line key={entry.id} handover={entry.handover} />;
            case 'invitation':
              return <InvitationLine key={entry.id} entry={entry} />;
            case 'answer':
              return <AnswerLine key={entry.id} entry={entry} />;
            case 'download':
              return <DownloadLine key={entry.id} entry={entry} />;
            default:
              return entry satisfies never;
          }
        })}
      </ul>
      {downloads > 0 && (
        <button
          type="button"
          className="link-button not-printed"
          aria-expanded={all}
          onClick={() => setAll(!all)}
        >
          {all
            ? t('Hide downloads')
            : t('Show {downloads, plural, one {# download} other {# downloads}}', { downloads })}
        </button>
      )}
    </section>
  );
}

type HandoverAction = 'pauseHandover' | 'stopHandover' | 'resumeHandover';

function Line({ handover }: { readonly handover: HandoverRecord }) {
  const { id: albumId } = useAlbum('id');
  const queries = useQueryClient();
  const { complain } = useNotices();
  const [open, setOpen] = useState(false);
  const { id, deliverable, revision, receiver, createdAt, askedBy, told, trouble, progress, sentAt, status } =
    handover;
  const { words, mood } = standing(handover);
  const Icon = KIND_ICONS[receiver.kind];
  const ask = (action: HandoverAction): void => {
    call(CONTRACT[action], { params: { id } }).then(
      () => queries.invalidateQueries({ queryKey: handoversKey(albumId) }),
      complain,
    );
  };
  const underWay = isHandoverActive(status);
  const why = saySentence(handover);
  const reasons = told?.reasons ?? [];
  const wantsDisc = status === 'waiting-for-disc';
  const standIn = useReceivers().data?.find((each) => each.id === receiver.id && each.standIn);
  return (
    <li className={`handed ${mood}`}>
      <Icon size={18} aria-hidden />
      <span className="handed-name">
        <strong>{t('r{revision}', { revision })}</strong> {deliverable} → {receiver.name}
      </span>
      <span className="handed-state">{words}</span>
      <span className="handed-news">
        {wantsDisc && standIn && <PutIn receiver={standIn} />}
        {underWay && status !== 'queued' && !wantsDisc && (
          <ProgressBar
            now={100 * (progress?.share ?? 0)}
            aria-label={t('Progress to {name}', { name: receiver.name })}
          />
        )}
        {trouble && <span className="doubtful">{t('{trouble} Retrying.', { trouble })}</span>}
        {why && <span className="text-danger">{why}</span>}
        {reasons.length > 0 && <Reasons reasons={reasons} albumId={albumId} />}
        {!underWay && !why && reasons.length === 0 && (
          <span className="text-secondary">
            <Moment at={createdAt} />
            {askedBy && `, by ${askedBy}`}
            {sentAt && `, ${formatBytes(handover.bytes)}`}
          </span>
        )}
      </span>
      <span className="handed-actions">
        {told?.receipt && !underWay && (
          <button type="button" className="link-button" aria-expanded={open} onClick={() => setOpen(!open)}>
            {t('Receipt')}
          </button>
        )}
        {underWay && sentAt === null && (
          <Button size="sm" variant="outline-primary" onClick={() => ask('pauseHandover')}>
            {t('Pause')}
          </Button>
        )}
        {underWay && (
          <Button size="sm" variant="outline-primary" onClick={() => ask('stopHandover')}>
            {t('Stop')}
          </Button>
        )}
        {['failed', 'stopped', 'paused'].includes(status) && (
          <Button size="sm" variant="outline-primary" onClick={() => ask('resumeHandover')}>
            {status === 'paused' ? t('Resume') : t('Try again')}
          </Button>
        )}
      </span>
      {(open || (told?.copies.length ?? 0) > 0) && <Receipt handover={handover} full={open} />}
    </li>
  );
}

/** The tray of a stand-in for a drive that waits for a disc. */
function PutIn({ receiver }: { readonly receiver: ReceiverRecord }) {
  return <DriveTray receiver={receiver} about={useAbout(receiver.id).data?.about ?? null} />;
}

/** The reasons of a refusal, each with a link to the view where it can be fixed. */
function Reasons({
  reasons,
  albumId,
}: {
  readonly reasons: NonNullable<HandoverRecord['told']>['reasons'];
  readonly albumId: string;
}) {
  const { album } = useAlbum('album');
  const songOf = (track: number | undefined): string => {
    const song = track === undefined ? undefined : album.songs.filter(({ numbered }) => numbered)[track - 1];
    return song ? `?song=${encodeURIComponent(song.id)}` : '';
  };
  return (
    <ul className="reasons">
      {reasons.map((reason, i) => {
        const step = stepToMend(reason);
        return (
          <li key={i}>
            “{reason.message}”{' '}
            {step && (
              <Link to={`/albums/${albumId}/${step}${step === 'render' ? '' : songOf(reason.track)}`}>
                {t('Show in {step}', { step: STEP_NAMES[step] })}
              </Link>
            )}
          </li>
        );
      })}
    </ul>
  );
}
