import {
  CONTRACT,
  isHandoverActive,
  recipientOf,
  type DeliveryRecord,
  type HandoverRecord,
  type ReceiverRecord,
  type Writing,
} from '@oiseau/api';
import { partOfPath } from '@oiseau/render';
import { useQueryClient } from '@tanstack/react-query';
import { Disc3, Factory, Radio, Store, type LucideIcon } from 'lucide-react';
import { useState } from 'react';
import { Button } from 'react-bootstrap';
import { useAlbum } from '../album/AlbumContext.js';
import { call } from '../api/client.js';
import { useNotices } from '../ui/Notices.js';
import { useStored } from '../ui/useStored.js';
import { SentBefore } from './SentBefore.js';
import { handoversKey, useAbout, useReceivers } from './queries.js';
import { DriveTray, WritingForm } from './WritingForm.js';
import { say, t } from '../ui/messages.js';

export const KIND_ICONS: Readonly<Record<ReceiverRecord['kind'], LucideIcon>> = {
  drive: Disc3,
  plant: Factory,
  shop: Store,
  service: Radio,
};

interface PaneProps {
  readonly delivery: DeliveryRecord;
  /** Everything that was handed over of the album. */
  readonly handovers: readonly HandoverRecord[];
}

/** To whom a delivery can go. */
export function HandOverPane({ delivery, handovers }: PaneProps) {
  const receivers = useReceivers().data ?? [];
  const { name, kind } = delivery.deliverable;
  const takers = receivers.filter((receiver) => recipientOf(receiver.kind).takes.includes(kind));
  return (
    <section className="receivers" aria-label={t('Send {name}', { name })}>
      <h3>{t('Send {name}, revision {revision}, to', { name, revision: delivery.revision })}</h3>
      {takers.length === 0 ? (
        <p className="text-secondary">
          {t(
            'No recipient accepts this kind. Drives and plants accept images, stores a package, services files.',
          )}
        </p>
      ) : (
        <ul>
          {takers.map((receiver) => (
            <Taker key={receiver.id} receiver={receiver} delivery={delivery} handovers={handovers} />
          ))}
        </ul>
      )}
    </section>
  );
}

function Taker({ receiver, delivery, handovers }: PaneProps & { readonly receiver: ReceiverRecord }) {
  const { id: albumId } = useAlbum('id');
  const queries = useQueryClient();
  const { complain } = useNotices();
  const { about, trouble } = useAbout(receiver.id).data ?? { about: null, trouble: null };
  const [by] = useStored('oiseau-asked-by', '');
  const [asking, setAsking] = useState(false);
  const discs = [...new Set(delivery.proof?.files.flatMap(({ path }) => partOfPath(path) ?? []))];
  const [writing, setWriting] = useState<Writing>({
    speed: 16,
    test: false,
    copies: 1,
    part: discs[0] ?? null,
  });
  const isDrive = receiver.kind === 'drive';
  const before = handovers.filter(
    (each) => each.receiver.id === receiver.id && each.deliverable === delivery.deliverable.name,
  );
  const busy = before.some(
    (each) => isHandoverActive(each.status) && (!isDrive || each.writing?.part === writing.part),
  );
  const Icon = KIND_ICONS[receiver.kind];
  const send = async (): Promise<void> => {
    setAsking(true);
    try {
      await call(CONTRACT.handOver, {
        params: { id: delivery.id },
        body: { receiver: receiver.id, by, ...(isDrive ? { writing } : {}) },
      });
      await queries.invalidateQueries({ queryKey: handoversKey(albumId) });
    } finally {
      setAsking(false);
    }
  };
  return (
    <li className="taker">
      <Icon size={20} aria-hidden />
      <div className="taker-words">
        <span>
          <strong>{receiver.name}</strong>{' '}
          <span className="text-secondary">
            {receiver.standIn
              ? t('{kind}, simulated: nothing leaves this machine', {
                  kind: recipientOf(receiver.kind).label,
                })
              : say(recipientOf(receiver.kind).label)}
          </span>
        </span>
        {trouble && <span className="text-danger">{trouble}</span>}
        {isDrive && <DriveTray receiver={receiver} about={about} />}
        {isDrive && <WritingForm writing={writing} discs={discs} about={about} onChange={setWriting} />}
        <SentBefore before={before} delivery={delivery} />
      </div>
      <Button size="sm" disabled={asking || busy} onClick={() => send().catch(complain)}>
        {busy ? t('In progress') : say(recipientOf(receiver.kind).action)}
      </Button>
    </li>
  );
}
