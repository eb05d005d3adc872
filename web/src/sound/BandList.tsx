import type { Band } from '@oiseau/audio/stages';
import { BAND_KINDS, formatHz } from './bands.js';
import { t } from '../ui/messages.js';

/** The bands of an equaliser, one of them in hand. */
export function BandList({
  bands,
  band,
  onBand,
}: {
  bands: readonly Band[];
  band: number | null;
  onBand: (band: number) => void;
}) {
  return (
    <ol className="band-choice" aria-label={t('Bands')}>
      {bands.map((each, i) => (
        <li key={i}>
          <button
            type="button"
            className={i === band ? 'in-hand' : ''}
            aria-pressed={i === band}
            onClick={() => onBand(i)}
          >
            {i + 1} {BAND_KINDS[each.kind]} {formatHz(each.hz)}
          </button>
        </li>
      ))}
    </ol>
  );
}
