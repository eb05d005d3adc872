import type { DeliveryRecord } from '@oiseau/api';
import { kindWords } from '@oiseau/render';
import { formatBytes } from '../ui/format.js';
import { say, t } from '../ui/messages.js';

/** What can be handed over: of each deliverable the newest that is proved. */
export function ReadyList({
  ready,
  chosen,
  onChoose,
}: {
  readonly ready: readonly DeliveryRecord[];
  readonly chosen: string;
  readonly onChoose: (id: string) => void;
}) {
  return (
    <section className="ready" aria-label={t('Ready to send')}>
      <h3>{t('Ready to send')}</h3>
      <ul>
        {ready.map(({ id, deliverable, revision, proof }) => (
          <li key={id} className={id === chosen ? 'open' : ''}>
            <button type="button" aria-current={id === chosen || undefined} onClick={() => onChoose(id)}>
              <span className="ready-name">
                <strong>{t('r{revision}', { revision })}</strong> {deliverable.name}
              </span>
              <span className="text-secondary">
                {say(kindWords(deliverable))},{' '}
                {formatBytes(proof?.files.reduce((sum, { bytes }) => sum + bytes, 0) ?? 0)}
              </span>
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
}
