import type { DeliveryRecord } from '@oiseau/api';
import { FileDown, Printer, Settings2 } from 'lucide-react';
import { Button } from 'react-bootstrap';
import { Link } from 'react-router';
import { useAddressed, useOpened } from '../ui/addressed.js';
import { safeFileName } from '@oiseau/album/model';
import { useMay, useVisitor } from '../access/VisitorContext.js';
import { useAlbum } from '../album/AlbumContext.js';
import { useDeliveries } from '../api/queries.js';
import { ChangedSinceApproval } from '../checks/ChangedSinceApproval.js';
import { saveText } from '../ui/save-text.js';
import { HandoverList } from './HandoverList.js';
import { HandOverPane } from './HandOverPane.js';
import { ReadyList } from './ReadyList.js';
import { ReceiversDialog } from './ReceiversDialog.js';
import { historyAsCsv } from './history.js';
import { useHandovers, useHistory } from './queries.js';
import { rich, t } from '../ui/messages.js';

/** Of each deliverable the newest that is proved and there. */
function readyOf(deliveries: readonly DeliveryRecord[]): DeliveryRecord[] {
  const seen = new Set<string>();
  return deliveries.filter(({ deliverable, proof, state, clearedAt }) => {
    const isReady =
      proof?.proved === true && state === 'done' && clearedAt === null && !seen.has(deliverable.name);
    if (isReady) seen.add(deliverable.name);
    return isReady;
  });
}

/** Where deliveries went: what can be handed over and to whom, and what has become of it. */
export function HandoverView() {
  const { id, album } = useAlbum('id', 'album');
  const deliveries = useDeliveries(id).data;
  const handovers = useHandovers(id).data;
  const history = useHistory(id, deliveries, handovers);
  const { unlimited } = useVisitor();
  const sets = useMay('keys') && unlimited;
  const [delivery, setDelivery] = useAddressed('delivery', null);
  const receivers = useOpened('receivers');
  if (!deliveries || !handovers) return null;
  const ready = readyOf(deliveries);
  const chosen = ready.find((each) => each.id === delivery) ?? ready[0];
  return (
    <div className="handover">
      <div className="view-head">
        <h2>{t('Handover')}</h2>
        <span className="flex-grow-1" />
        {history.length > 0 && (
          <>
            <Button size="sm" variant="outline-primary" onClick={() => window.print()}>
              <Printer size={16} aria-hidden /> {t('Print')}
            </Button>
            <Button
              size="sm"
              variant="outline-primary"
              onClick={() =>
                saveText(
                  `${safeFileName(album.title)} deliveries.csv`,
                  'text/csv',
                  historyAsCsv(history, new Date()),
                )
              }
            >
              <FileDown size={16} aria-hidden /> {t('CSV')}
            </Button>
          </>
        )}
        {sets && (
          <Button size="sm" variant="outline-primary" onClick={receivers.open}>
            <Settings2 size={16} aria-hidden /> {t('Recipients')}
          </Button>
        )}
      </div>
      <ChangedSinceApproval />
      {chosen ? (
        <div className="handover-columns">
          <ReadyList ready={ready} chosen={chosen.id} onChoose={setDelivery} />
          <HandOverPane key={chosen.id} delivery={chosen} handovers={handovers} />
        </div>
      ) : (
        <div className="empty">
          <p className="empty-lead">{t('Nothing to send yet.')}</p>
          <p>
            {rich(
              'Verified renders from <link>Render</link> can be written to disc or sent to a plant, a store or a service from here.',
              { link: <Link to={`/albums/${id}/render`} /> },
            )}
          </p>
        </div>
      )}
      <HandoverList history={history} />
      <ReceiversDialog show={receivers.isOpen} onHide={receivers.close} />
    </div>
  );
}
