import { partSound, songSound, type SoundFigures } from '@oiseau/album/measured';
import {
  STAGE_NAMES,
  stageOf,
  type Limiter,
  type ReducingStage,
  type StageName,
  type Treatment,
} from '@oiseau/audio/stages';
import type { ReactNode } from 'react';
import { useAlbum } from '../album/AlbumContext.js';
import { useSounds } from '../album/SoundsContext.js';
import { BandFigures } from './BandFigures.js';
import { BandList } from './BandList.js';
import { EncodersRoom } from './EncodersRoom.js';
import { Stage } from './Stage.js';
import { StageFigures } from './StageFigures.js';
import type { SoundDesk } from './useSoundDesk.js';
import { say, t } from '../ui/messages.js';

interface StagePaneProps {
  readonly desk: SoundDesk;
  /** The band in hand. */
  readonly band: number | null;
  readonly onBand: (band: number | null) => void;
  /** Adds a band. */
  readonly onAdd: () => void;
}

/** The stages in the order in which they work, with every figure. */
export function StagePane(props: StagePaneProps) {
  const { desk, onBand, onAdd } = props;
  const figures = useSoundFigures(desk);
  const set = (name: StageName, settings: unknown, key: string): void =>
    desk.change((before) => ({ ...before, [name]: settings }), `${name} ${key}`);
  // A ride belongs to a track.
  const names = STAGE_NAMES.filter((name) => name !== 'ride' || desk.target !== null);
  return (
    <aside className="stages" aria-label={t('Treatment')}>
      {names.map((name) => {
        const stage = stageOf(name);
        const settings = desk.treatment[name];
        const isThere = JSON.stringify(settings) !== JSON.stringify(stage.absent);
        const isEqualiser = name === 'equaliser';
        return (
          <Stage
            key={name}
            name={name}
            title={say(stage.label)}
            desk={desk}
            isThere={isThere}
            {...(stage.makeupDb ? { taken: reductionOf(figures, name) } : {})}
            {...(name === 'ride' ? {} : { onAdd: isEqualiser ? onAdd : () => set(name, stage.added, 'on') })}
            onRemove={() => {
              if (isEqualiser) onBand(null);
              set(name, stage.absent, 'off');
            }}
          >
            {(isThere || name === 'ride') && !isEqualiser && (
              <StageFigures
                stage={stage}
                settings={settings}
                onChange={(changed, key) => set(name, changed, key)}
                onDrag={(changed) => desk.drag({ ...desk.treatment, [name]: changed } as Treatment)}
                onDrop={desk.drop}
                onTakeBack={desk.takeBack}
              />
            )}
            {BESIDE[name]?.(props, (changed, key) => set(name, changed, key))}
          </Stage>
        );
      })}
    </aside>
  );
}

/** Parts of a stage beside its figures, where it has some. */
const BESIDE: {
  readonly [Name in StageName]?: (
    props: StagePaneProps,
    set: (settings: Treatment[Name], key: string) => void,
  ) => ReactNode;
} = {
  equaliser: ({ desk, band, onBand }, set) => {
    const { equaliser } = desk.treatment;
    return (
      <>
        <BandList bands={equaliser} band={band} onBand={onBand} />
        {band !== null && equaliser[band] && (
          <BandFigures
            key={band}
            desk={desk}
            place={band}
            onRemove={() => {
              onBand(null);
              set(
                equaliser.filter((_, i) => i !== band),
                'out',
              );
            }}
          />
        )}
      </>
    );
  },
  limiter: ({ desk: { target, treatment } }, set) => {
    const limiter: Limiter | null = treatment.limiter;
    return (
      target === null &&
      limiter && (
        <EncodersRoom limiter={limiter} onCeiling={(ceiling) => set({ ...limiter, ceiling }, 'room')} />
      )
    );
  },
};

/** Measured figures of the treatment in hand; null while they are not known. */
function useSoundFigures({ target }: SoundDesk): SoundFigures | null {
  const { part } = useAlbum('part');
  const { recordOf } = useSounds();
  const song = part.sequence.songs.find(({ id }) => id === target);
  const sound = target === null ? partSound(part) : song ? songSound(song.region) : null;
  return (sound && recordOf(sound)?.figures) ?? null;
}

/** The gain reduction of a stage; null where it is not measured. */
const reductionOf = (figures: SoundFigures | null, name: StageName) =>
  figures && name in figures ? figures[name as ReducingStage] : null;
