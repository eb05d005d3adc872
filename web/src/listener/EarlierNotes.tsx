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
    <section aria-label="What became of your notes">
      <h2>What became of your notes</h2>
      {earlier.map((each) => (
        <ul key={each.revision} className="earlier-notes" aria-label={`Notes on revision ${each.revision}`}>
          {each.notes.map(({ text, met, track, place }, i) => {
            const Icon = met ? Check : Clock;
            return (
              <li key={i} className={met ? 'met' : ''}>
                <Icon size={18} aria-hidden />
                <span>
                  <strong>{met ? 'Met' : 'Not met'}</strong>:{' '}
                  {text === '' ? 'a note without words' : `“${text}”`}{' '}
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
                    Hear it in revision {revision}
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
