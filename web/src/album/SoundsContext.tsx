import {
  readOutline,
  type SoundOutline,
  heardFigures,
  lineUpsOf,
  nameOfLineUp,
  nameOfSide,
  nameOfSound,
  sideQuestion,
  soundsOf,
  type HeardFigures,
  type LineUpQuestion,
  type LineUpsByName,
  type MeasuredSound,
  type SideQuestion,
  type SidesByName,
  type SoundFiguresByName,
} from '@oiseau/album/measured';
import type { Part } from '@oiseau/album/layout';
import { addressOf, CONTRACT, type SoundRecord } from '@oiseau/api';
import { useQuery } from '@tanstack/react-query';
import { createContext, useContext, useMemo, type ReactNode } from 'react';
import { call } from '../api/client.js';
import { useAlbum } from './AlbumContext.js';
import { figuresIn, useAsked } from './useAsked.js';

/** What is known of the album as it stands that takes measuring: figures are found by what they are of, so those of another state are nobody's. */
export interface KnownSounds {
  readonly figures: SoundFiguresByName;
  /** How other recordings lie to their masters. */
  readonly lineUps: LineUpsByName;
  readonly sides: SidesByName;
  /** Of a sound that is asked for; undefined while nobody has answered. */
  recordOf(sound: MeasuredSound): SoundRecord | undefined;
}

const NOTHING: KnownSounds = {
  ...{ figures: new Map(), lineUps: new Map(), sides: new Map() },
  recordOf: () => undefined,
};
const SoundsContext = createContext<KnownSounds>(NOTHING);

export const useSounds = (): KnownSounds => useContext(SoundsContext);

export const askSounds = (id: string, sounds: readonly MeasuredSound[]) =>
  call(CONTRACT.measureSounds, { params: { id }, body: { sounds: [...sounds] } });
const askLineUps = (id: string, questions: readonly LineUpQuestion[]) =>
  call(CONTRACT.measureLineUps, { params: { id }, body: { questions: [...questions] } });
const askSides = (id: string, questions: readonly SideQuestion[]) =>
  call(CONTRACT.measureSides, { params: { id }, body: { questions: [...questions] } });

/** Has what takes measuring measured, in the background, for all views of the album. */
export function SoundsProvider({ children }: { children: ReactNode }) {
  const { album, parts } = useAlbum('album', 'parts');
  const questions = useMemo(
    () => ({
      sounds: soundsOf(parts),
      lineUps: lineUpsOf(album),
      sides: parts.flatMap((part) => sideQuestion(part) ?? []),
    }),
    [album, parts],
  );
  const sounds = useAsked('sounds', questions.sounds, nameOfSound, askSounds);
  const lineUps = useAsked('line-ups', questions.lineUps, nameOfLineUp, askLineUps);
  const sides = useAsked('sides', questions.sides, nameOfSide, askSides);
  const known = useMemo(
    (): KnownSounds => ({
      figures: figuresIn(sounds),
      lineUps: figuresIn(lineUps),
      sides: figuresIn(sides),
      recordOf: (sound) => sounds?.get(nameOfSound(sound)),
    }),
    [sounds, lineUps, sides],
  );
  return <SoundsContext value={known}>{children}</SoundsContext>;
}

/** Figures of all songs as they are heard, by id, as far as they are known. */
export function useHeardFigures(): ReadonlyMap<string, HeardFigures> {
  const { parts, mastersById } = useAlbum('parts', 'mastersById');
  const { figures } = useSounds();
  return useMemo(() => {
    const of = (part: Part) =>
      heardFigures(part, (master) => mastersById.get(master)?.measurement ?? null, figures);
    return new Map(parts.flatMap((part) => [...of(part)]));
  }, [parts, mastersById, figures]);
}

/** The outline of a measured sound; it never changes. */
export function useSoundOutline(record: SoundRecord | undefined): SoundOutline | undefined {
  const { id } = useAlbum('id');
  const sha256 = record?.key ?? '';
  return useQuery({
    queryKey: ['sound outline', sha256],
    enabled: Boolean(record?.figures),
    staleTime: Infinity,
    queryFn: async () => {
      const response = await fetch(addressOf(CONTRACT.soundOutline, { params: { id, sha256 } }));
      if (!response.ok) throw new Error('The outline could not be read.');
      return readOutline(await response.arrayBuffer());
    },
  }).data;
}
