import type { Band, Treatment } from '@oiseau/audio/stages';
import { X } from 'lucide-react';
import { Form } from 'react-bootstrap';
import { IconButton } from '../ui/IconButton.js';
import { BAND_KINDS, formatHz, ofKind, readHz, tidyHz, type BandKind } from './bands.js';
import { Figure } from './Figure.js';
import { MovingFigure } from './MovingFigure.js';
import type { SoundDesk } from './useSoundDesk.js';
import { t } from '../ui/messages.js';

/** Every figure of the band in hand. */
export function BandFigures({
  desk,
  place,
  onRemove,
}: {
  desk: SoundDesk;
  place: number;
  onRemove: () => void;
}) {
  const { treatment } = desk;
  const band = treatment.equaliser[place];
  if (!band) return null;
  const withBand = (changed: Band): Treatment => ({
    ...treatment,
    equaliser: treatment.equaliser.map((each, i) => (i === place ? changed : each)),
  });
  const of = <Value,>(key: string, value: Value, made: (changed: Value) => Band) => ({
    value,
    onChange: (changed: Value) => desk.change(() => withBand(made(changed)), `band ${place} ${key}`),
    onDrag: (changed: Value) => desk.drag(withBand(made(changed))),
    onDrop: desk.drop,
    onTakeBack: desk.takeBack,
  });
  const change = of<Band>('kind', band, (changed) => changed).onChange;
  return (
    <div className="band-figures">
      <div className="figure">
        <span className="figure-name">{t('Band {place}', { place: place + 1 })}</span>
        <Form.Select
          size="sm"
          aria-label={t('Kind of band {place}', { place: place + 1 })}
          value={band.kind}
          onChange={({ target }) => change(ofKind(band, target.value as BandKind))}
        >
          {Object.entries(BAND_KINDS).map(([kind, words]) => (
            <option key={kind} value={kind}>
              {words}
            </option>
          ))}
        </Form.Select>
        <IconButton
          icon={X}
          label={t('Remove band {place}', { place: place + 1 })}
          hint={t('Remove (Delete)')}
          onClick={onRemove}
        />
      </div>
      <Figure
        label={t('Frequency')}
        unit="Hz"
        least={10}
        most={40_000}
        step={0.03}
        logarithmic
        shown={formatHz}
        read={readHz}
        {...of('hz', band.hz, (hz) => ({ ...band, hz: tidyHz(hz) }))}
      />
      {'db' in band ? (
        <>
          <MovingFigure
            label={t('Gain')}
            range={[-24, 24]}
            {...of('db', band.db, (db) => ({ ...band, db }))}
          />
          <Figure
            label={t('Q')}
            unit=""
            least={0.1}
            most={20}
            step={0.08}
            logarithmic
            {...of('q', band.q, (q) => ({ ...band, q }))}
          />
        </>
      ) : (
        <div className="figure">
          <span className="figure-name">{t('Slope')}</span>
          <Form.Select
            size="sm"
            aria-label={t('Slope')}
            value={band.slope}
            onChange={({ target }) => change({ ...band, slope: Number(target.value) === 24 ? 24 : 12 })}
          >
            <option value={12}>{t('12 dB/octave')}</option>
            <option value={24}>{t('24 dB/octave')}</option>
          </Form.Select>
        </div>
      )}
    </div>
  );
}
