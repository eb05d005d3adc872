import { ChevronLeft, ChevronRight } from 'lucide-react';
import { useState } from 'react';
import { Button } from 'react-bootstrap';
import type { MasterRecord } from '@oiseau/api';
import { formatPlace } from '../ui/format.js';
import { IconButton } from '../ui/IconButton.js';
import { t } from '../ui/messages.js';

/** How long before a clipped place playing starts, in seconds: an ear needs a moment. */
const LEAD = 0.5;

/** Walks from one clipped place to the next, by sight and by ear. */
export function ClippedPlaces({
  master,
  onPlay,
}: {
  master: MasterRecord;
  onPlay: (sample: number) => void;
}) {
  const [chosen, setChosen] = useState(0);
  const { measurement, info } = master;
  const clipped = measurement?.clipped ?? [];
  const place = clipped[chosen];
  if (!measurement || !place) return null;
  const go = (to: number): void => {
    const next = clipped[to];
    setChosen(to);
    if (next) onPlay(next.at - LEAD * info.rate);
  };
  return (
    <p className="clipped-places">
      <IconButton
        icon={ChevronLeft}
        label={t('Previous clipped passage')}
        disabled={chosen === 0}
        onClick={() => go(chosen - 1)}
      />
      <IconButton
        icon={ChevronRight}
        label={t('Next clipped passage')}
        disabled={chosen === clipped.length - 1}
        onClick={() => go(chosen + 1)}
      />
      <Button variant="link" size="sm" className="p-0" onClick={() => go(chosen)}>
        {formatPlace(place.at, info.rate)}
      </Button>
      <span>
        {place.channel === 'left'
          ? t('{count, plural, one {# sample} other {# samples}} at full scale, left', {
              count: place.length,
            })
          : t('{count, plural, one {# sample} other {# samples}} at full scale, right', {
              count: place.length,
            })}
        {' · '}
        {measurement.clippedRuns > clipped.length
          ? t('passage {number} of {shown} shown, {all} in all', {
              number: chosen + 1,
              shown: clipped.length,
              all: measurement.clippedRuns,
            })
          : t('passage {number} of {shown}', { number: chosen + 1, shown: clipped.length })}
      </span>
    </p>
  );
}
