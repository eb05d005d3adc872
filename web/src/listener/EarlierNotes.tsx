import type { ListeningPageRecord } from '@oiseau/api';
import { Check, Clock } from 'lucide-react';
import { t } from '../ui/messages.js';

/** What became of what the listener had noted on earlier revisions. */
export function EarlierNotes({
  earlier,
  revision,
  onHear,
}: {
  readonly earlier: ListeningPageRecord['earlier'];
  readonly revision: number;
  readonly onHear: (row: number, seconds: number) => void;
}) {
  if (earlier.length === 0) return null;
  return (
    <section aria-label={t('Your earlier notes')}>
      <h2>{t('Your earlier notes')}</h2>
      {earlier.map((each) => (
        <ul
          key={each.revision}
          className="earlier-notes"
          aria-label={t('Notes on revision {revision}', { revision: each.revision })}
        >
          {each.notes.map(({ text, met, track, place }, i) => {
            const Icon = met ? Check : Clock;
            return (
              <li key={i} className={met ? 'met' : ''}>
                <Icon size={18} aria-hidden />
                <span>
                  <strong>{met ? t('Done') : t('Open')}</strong>:{' '}
                  {text === '' ? t('empty note') : t('“{text}”', { text })}{' '}
                  <span className="text-secondary">
                    {t('on revision {revision}', { revision: each.revision })}
                    {track && `, ${track.number} ${track.title}`}
                  </span>
                </span>
                {place && (
                  <button
                    type="button"
                    className="link-button"
                    onClick={() => onHear(place.row, place.seconds)}
                  >
                    {t('Play in revision {revision}', { revision })}
                  </button>
                )}
              </li>
            );
          })}
        </ul>
      ))}
    </section>
  );
}
