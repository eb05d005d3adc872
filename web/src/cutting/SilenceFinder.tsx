import { cutAtSoundings, keepNames, type Cutting } from '@oiseau/formats/cutting';
import {
  soundings,
  type MasterMeasurement,
  type SilenceSettings,
  type Silhouette,
} from '@oiseau/audio/measure';
import { useEffect, useMemo, useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import type { MasterRecord } from '@oiseau/api';
import { NumberFields } from '../ui/NumberFields.js';
import { t } from '../ui/messages.js';

/** Softest and loudest level that can count as silence, dBFS. */
const LOWEST = -90;
const HIGHEST = -20;

const FIELDS = [
  { name: 'shortestSilence', label: t('Minimum silence'), unit: 's', least: 0.1, most: 60 },
  { name: 'shortestPiece', label: t('Minimum piece length'), unit: 's', least: 0, most: 3600 },
] as const;

/** A level to begin with: well under the music, over its noise. */
function startingLevel({ integratedLufs }: MasterMeasurement): number {
  return Math.max(LOWEST, Math.min(HIGHEST, Math.round((integratedLufs ?? -20) - 35)));
}

/** Finds cuts in the silences; what would come of the settings is shown while they change. */
export function SilenceFinder({
  master,
  measurement,
  outline,
  cutting,
  onPreview,
  onCut,
}: {
  master: MasterRecord;
  measurement: MasterMeasurement;
  outline: Silhouette;
  cutting: Cutting;
  onPreview: (cutting: Cutting | null) => void;
  onCut: (cutting: Cutting) => void;
}) {
  const [settings, setSettings] = useState<SilenceSettings>(() => ({
    thresholdDb: startingLevel(measurement),
    shortestSilence: 1.5,
    shortestPiece: 10,
  }));
  const [trying, setTrying] = useState(false);
  const { rate, length } = master.info;
  const found = useMemo(
    () => cutAtSoundings(length, rate, soundings(outline, settings)),
    [outline, settings, length, rate],
  );
  useEffect(() => {
    onPreview(trying ? found : null);
    return () => onPreview(null);
  }, [trying, found, onPreview]);
  const set = (change: Partial<SilenceSettings>): void => {
    setSettings((before) => ({ ...before, ...change }));
    setTrying(true);
  };
  return (
    <fieldset className="cut-tool">
      <legend>{t('From silences')}</legend>
      <Form.Label htmlFor="silence-level">
        {t('Threshold')} <strong>{String(settings.thresholdDb).replace('-', '−')} dBFS</strong>
      </Form.Label>
      <Form.Range
        id="silence-level"
        min={LOWEST}
        max={HIGHEST}
        value={settings.thresholdDb}
        onChange={({ target }) => set({ thresholdDb: Number(target.value) })}
      />
      <div className="cut-numbers">
        <NumberFields fields={FIELDS} values={settings} onChange={set} />
      </div>
      <div className="d-flex align-items-center gap-2">
        <span className="flex-grow-1" role="status">
          {t('Result: {count, plural, one {# piece} other {# pieces}}', { count: found.pieces.length })}
        </span>
        <Button size="sm" variant="link" onClick={() => setTrying(!trying)}>
          {trying ? t('Hide') : t('Show')}
        </Button>
        <Button
          size="sm"
          variant="outline-primary"
          onClick={() => {
            onCut(keepNames(found, cutting));
            setTrying(false);
          }}
        >
          {t('Cut at silences')}
        </Button>
      </div>
    </fieldset>
  );
}
