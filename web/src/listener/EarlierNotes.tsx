import type { ListeningPageRecord } from '@oiseau/api';
import { Check, Clock } from 'lucide-react';

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
    <section aria-label="Your earlier notes">
      <h2>Your earlier notes</h2>
      {earlier.map((each) => (
        <ul key={each.revision} className="earlier-notes" aria-label={`Notes on revision ${each.revision}`}>
          {each.notes.map(({ text, met, track, place }, i) => {
            const Icon = met ? Check : Clock;
            return (
              <li key={i} className={met ? 'met' : ''}>
                <Icon size={18} aria-hidden />
                <span>
                  <strong>{met ? 'Done' : 'Open'}</strong>: {text === '' ? 'empty note' : `“${text}”`}{' '}
                  <span className="text-secondary">
                    on revision {each.revision}
                    {track && `, ${track.number} ${track.title}`}
                  </span>
                </span>
                {place && (
                  <button
                    type="button"
                    className="link-button"
                    onClick={() => onHear(place.row, place.seconds)}
                  >
                    Play in revision {revision}
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
