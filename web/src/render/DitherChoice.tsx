import { DITHER_KINDS, errorDensityDb, type DitherKind } from '@oiseau/audio/dsp';
import { Line, LineChart, ReferenceLine, XAxis, YAxis } from 'recharts';
import { Choice } from './Choice.js';
import { t } from '../ui/messages.js';

/** A line of advice for each kind of dither (docs/rules.md 4.5). */
const ADVICE: Readonly<Record<DitherKind, string>> = {
  none: t('Rounding only: the error is correlated with the music. For test signals.'),
  rectangular: t('1 LSB wide: noise modulation remains. Triangular is nearly always better.'),
  triangular: t('The safe choice: low, constant noise, also for files that will be processed further.'),
  shaped: t('For a final 16-bit master: less noise where hearing is most sensitive, more where it is not.'),
};

const DITHER_NAMES: Readonly<Record<DitherKind, string>> = {
  none: t('none'),
  rectangular: t('rectangular'),
  triangular: t('triangular'),
  shaped: t('shaped'),
};

/** The kind of dither, what it is good for and the noise that it leaves. */
export function DitherChoice({
  value,
  onChange,
}: {
  value: DitherKind;
  onChange: (kind: DitherKind) => void;
}) {
  return (
    <>
      <Choice
        label={t('Dither')}
        value={value}
        options={DITHER_KINDS.map((kind) => [kind, DITHER_NAMES[kind]])}
        onChange={onChange}
      />
      <div className="dither-note">
        <p className="setting-note">{ADVICE[value]}</p>
        <NoisePicture kind={value} />
      </div>
    </>
  );
}

const RATE = 44_100;
const POINTS = 90;
const SMALL = { fontSize: 12, fill: 'var(--oi-muted)' };

/** Noise over frequency at 44.1 kHz, against plain rounding (the thin line). */
function NoisePicture({ kind }: { kind: DitherKind }) {
  const data = Array.from({ length: POINTS }, (_, i) => {
    const hz = 200 + (i * (22_050 - 200)) / (POINTS - 1);
    return { kHz: hz / 1000, db: errorDensityDb(kind, hz / RATE) };
  });
  return (
    <figure
      className="noise-picture"
      role="img"
      aria-label={t('Noise of {kind} dither from 0.2 to 22 kHz', { kind })}
    >
      <LineChart width={250} height={96} data={data} margin={{ top: 6, right: 6, bottom: 0, left: 0 }}>
        <XAxis
          dataKey="kHz"
          type="number"
          domain={[0, 22]}
          ticks={[0, 5, 10, 15, 20]}
          tick={SMALL}
          tickLine={false}
          height={20}
        />
        <YAxis domain={[-20, 40]} ticks={[-20, 0, 20, 40]} width={30} tick={SMALL} tickLine={false} />
        <ReferenceLine y={0} stroke="var(--oi-soft)" />
        <Line dataKey="db" stroke="var(--oi-accent)" strokeWidth={2} dot={false} isAnimationActive={false} />
      </LineChart>
      <figcaption>{t('Noise from 0 to 22 kHz, dB relative to rounding')}</figcaption>
    </figure>
  );
}
