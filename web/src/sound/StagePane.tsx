import {
  MOST_KNEE_DB,
  type Compressor,
  type Limiter,
  type Treatment,
  type Width,
} from '@oiseau/audio/stages';
import { partSound, songSound, type TakenFigures } from '@oiseau/album/measured';
import type { StageName } from '@oiseau/album/edits';
import { useAlbum } from '../album/AlbumContext.js';
import { useSounds } from '../album/SoundsContext.js';
import { BandFigures } from './BandFigures.js';
import { BAND_KINDS, formatHz, readHz } from './bands.js';
import { EncodersRoom } from './EncodersRoom.js';
import { Figure } from './Figure.js';
import { MovingFigure } from './MovingFigure.js';
import { Stage } from './Stage.js';
import type { SoundDesk } from './useSoundDesk.js';

const COMPRESSOR: Compressor = {
  ...{ threshold: -24, ratio: 2, attack: 20, release: 150, knee: 6, makeup: 0 },
};
const LIMITER: Limiter = { drive: 0, ceiling: -1, release: 100 };
const WIDTH: Width = { side: 1, monoBelow: 0 };

/** The stages in the order in which they work, with every figure. */
export function StagePane({
  desk,
  band,
  onBand,
  onAdd,
}: {
  desk: SoundDesk;
  band: number | null;
  onBand: (band: number | null) => void;
  onAdd: () => void;
}) {
  const { treatment, target } = desk;
  const { ride, equaliser, width, compressor, limiter } = treatment;
  const taken = useTaken(desk);
  const set =
    <Name extends StageName>(name: Name, key: string) =>
    (value: Treatment[Name]): void =>
      desk.change((before) => ({ ...before, [name]: value }), `${name} ${key}`);
  /** Props of a figure that is one field of a stage. */
  const of = <Name extends StageName, Value>(
    name: Name,
    key: string,
    value: Value,
    made: (changed: Value) => Treatment[Name],
  ) => ({
    value,
    onChange: (changed: Value) => set(name, key)(made(changed)),
    onDrag: (changed: Value) => desk.drag({ ...treatment, [name]: made(changed) }),
    onDrop: desk.drop,
    onTakeBack: desk.takeBack,
  });
  const chosen = band === null ? undefined : equaliser[band];
  return (
    <aside className="stages" aria-label="What is done">
      {target !== null && (
        <Stage
          name="ride"
          title="Ride"
          desk={desk}
          isThere={ride !== 0}
          onRemove={() => set('ride', 'off')(0)}
        >
          <MovingFigure label="Ride" range={[-60, 24]} {...of('ride', 'db', ride, (value) => value)} />
        </Stage>
      )}
      <Stage
        name="equaliser"
        title="Equaliser"
        desk={desk}
        isThere={equaliser.length > 0}
        onAdd={onAdd}
        onRemove={() => {
          onBand(null);
          set('equaliser', 'off')([]);
        }}
      >
        <ol className="band-choice" aria-label="Bands">
          {equaliser.map((each, i) => (
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
        {chosen && band !== null && (
          <BandFigures
            key={band}
            desk={desk}
            place={band}
            onRemove={() => {
              onBand(null);
              set('equaliser', 'out')(equaliser.filter((_, i) => i !== band));
            }}
          />
        )}
      </Stage>
      <Stage
        name="width"
        title="Width"
        desk={desk}
        isThere={width !== null}
        onAdd={() => set('width', 'on')(WIDTH)}
        onRemove={() => set('width', 'off')(null)}
      >
        {width && (
          <>
            <MovingFigure
              label="Sides"
              range={[-60, 12]}
              {...of('width', 'side', width.side, (side) => ({ ...width, side }))}
            />
            <Figure
              label="Mono below"
              unit="Hz"
              least={0}
              most={500}
              step={5}
              shown={(hz) => (hz === 0 ? 'nowhere' : formatHz(hz))}
              read={(text) => (/^\s*(nowhere|0)?\s*$/i.test(text) ? 0 : readHz(text))}
              {...of('width', 'mono', width.monoBelow, (hz) => ({
                ...width,
                monoBelow: hz > 0 ? Math.max(20, hz) : 0,
              }))}
            />
          </>
        )}
      </Stage>
      <Stage
        name="compressor"
        title="Compressor"
        desk={desk}
        isThere={compressor !== null}
        taken={taken.compressor}
        onAdd={() => set('compressor', 'on')(COMPRESSOR)}
        onRemove={() => set('compressor', 'off')(null)}
      >
        {compressor &&
          COMPRESSOR_FIGURES.map(({ field, ...figure }) => (
            <Figure
              key={field}
              {...figure}
              {...of('compressor', field, compressor[field], (value) => ({ ...compressor, [field]: value }))}
            />
          ))}
      </Stage>
      <Stage
        name="limiter"
        title="Limiter"
        desk={desk}
        isThere={limiter !== null}
        taken={taken.limiter}
        onAdd={() => set('limiter', 'on')(LIMITER)}
        onRemove={() => set('limiter', 'off')(null)}
      >
        {limiter && (
          <>
            <MovingFigure
              label="Drive"
              range={[-24, 24]}
              {...of('limiter', 'drive', limiter.drive, (drive) => ({ ...limiter, drive }))}
            />
            <Figure
              label="Ceiling"
              unit="dBTP"
              least={-20}
              most={0}
              step={0.1}
              {...of('limiter', 'ceiling', limiter.ceiling, (ceiling) => ({ ...limiter, ceiling }))}
            />
            <Figure
              label="Release"
              unit="ms"
              least={1}
              most={5000}
              step={0.1}
              logarithmic
              {...of('limiter', 'release', limiter.release, (release) => ({ ...limiter, release }))}
            />
            {target === null && (
              <EncodersRoom
                limiter={limiter}
                onCeiling={(ceiling) => set('limiter', 'room')({ ...limiter, ceiling })}
              />
            )}
          </>
        )}
      </Stage>
    </aside>
  );
}

const COMPRESSOR_FIGURES = [
  { field: 'threshold', label: 'Threshold', unit: 'dB', least: -80, most: 0, step: 0.5 },
  { field: 'ratio', label: 'Ratio', unit: ': 1', least: 1, most: 20, step: 0.05, logarithmic: true },
  { field: 'attack', label: 'Attack', unit: 'ms', least: 0.1, most: 500, step: 0.1, logarithmic: true },
  { field: 'release', label: 'Release', unit: 'ms', least: 1, most: 5000, step: 0.1, logarithmic: true },
  { field: 'knee', label: 'Knee', unit: 'dB', least: 0, most: MOST_KNEE_DB, step: 1 },
  { field: 'makeup', label: 'Make-up', unit: 'dB', least: -24, most: 24, step: 0.1 },
] as const;

/** What compressor and limiter of the treatment in hand take away; null while that is not known. */
function useTaken({ target }: SoundDesk): { compressor: TakenFigures | null; limiter: TakenFigures | null } {
  const { part } = useAlbum('part');
  const { recordOf } = useSounds();
  const song = part.sequence.songs.find(({ id }) => id === target);
  const sound = target === null ? partSound(part) : song ? songSound(song.region) : null;
  const figures = sound ? recordOf(sound)?.figures : null;
  return { compressor: figures?.compressor ?? null, limiter: figures?.limiter ?? null };
}
