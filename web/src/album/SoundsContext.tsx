import {
  heardFigures,
  nameOfSound,
  Silhouette,
  soundsOf,
  type HeardFigures,
  type MeasuredSound,
  type SoundFigures,
  type SoundFiguresByName,
} from '@oiseau/core';
import { addressOf, CONTRACT, mayDo, type SoundRecord } from '@oiseau/api';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { createContext, useContext, useEffect, useMemo, useState, type ReactNode } from 'react';
import { useVisitor } from '../access/VisitorContext.js';
import { call } from '../api/client.js';
import { useAlbum } from './AlbumContext.js';

/** What is known of the treated sounds of the album as it stands. */
export interface KnownSounds {
  readonly figures: SoundFiguresByName;
  /** Of a sound that is asked for; undefined while nobody has answered. */
  recordOf(sound: MeasuredSound): SoundRecord | undefined;
}

const NOTHING: KnownSounds = { figures: new Map(), recordOf: () => undefined };
const SoundsContext = createContext<KnownSounds>(NOTHING);

export const useSounds = (): KnownSounds => useContext(SoundsContext);

/** After so long a rest, ms, what was changed is worth measuring. */
const REST_MS = 600;
/** How often it is asked how far the measuring is, ms. */
const ASK_MS = 800;

/** A value as it was when it last rested. */
function useRested<T>(value: T): T {
  const [rested, setRested] = useState(value);
  useEffect(() => {
    const timer = setTimeout(() => setRested(value), REST_MS);
    return () => clearTimeout(timer);
  }, [value]);
  return rested;
}

/** Has the treated sounds of the album measured, in the background, for all its views. */
export function SoundsProvider({ children }: { children: ReactNode }) {
  const { id, parts } = useAlbum('id', 'parts');
  // Who only listens has nothing measured.
  const works = mayDo(useVisitor().role, 'work');
  const sounds = useMemo(() => soundsOf(parts), [parts]);
  const name = useMemo(() => JSON.stringify(sounds.map(nameOfSound)), [sounds]);
  const rested = useRested(name);
  const asked = rested === name ? sounds : null;
  const { data } = useQuery({
    queryKey: ['sounds', id, rested],
    enabled: works && asked !== null && asked.length > 0,
    queryFn: async () => {
      const records = await call(CONTRACT.measureSounds, {
        params: { id },
        body: { sounds: asked ?? [] },
      });
      return new Map((asked ?? []).map((sound, i) => [nameOfSound(sound), records[i]]));
    },
    placeholderData: keepPreviousData,
    refetchInterval: ({ state }) =>
      [...(state.data?.values() ?? [])].some(
        (record) => record && !record.figures && record.job?.state !== 'failed',
      )
        ? ASK_MS
        : false,
  });
  const known = useMemo((): KnownSounds => {
    // Figures are found by what they are of: those of another state of the album are nobody's here.
    const figures = [...(data ?? [])].flatMap(([of, record]): [string, SoundFigures][] =>
      record?.figures ? [[of, record.figures]] : [],
    );
    return { figures: new Map(figures), recordOf: (sound) => data?.get(nameOfSound(sound)) };
  }, [data]);
  return <SoundsContext value={known}>{children}</SoundsContext>;
}

/** Figures of the songs as they are heard, by id, as far as they are known. */
export function useHeardFigures(): ReadonlyMap<string, HeardFigures> {
  const { part, mastersById } = useAlbum('part', 'mastersById');
  const { figures } = useSounds();
  return useMemo(
    () => heardFigures(part, (master) => mastersById.get(master)?.measurement ?? null, figures),
    [part, mastersById, figures],
  );
}

/** A treated sound to be drawn. */
export interface SoundOutline {
  readonly silhouette: Silhouette;
  /** Tenths of a decibel that compressor and limiter take away, a pair for each 1/75 s. */
  readonly taken: Uint8Array;
}

/** Bytes of each 1/75 s: peak and RMS of 16 bit, and two of what is taken away. */
const OUTLINE_BYTES = 6;

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
      const bytes = await response.arrayBuffer();
      const steps = bytes.byteLength / OUTLINE_BYTES;
      return {
        silhouette: new Silhouette(new Uint16Array(bytes, 0, 2 * steps)),
        taken: new Uint8Array(bytes, 4 * steps, 2 * steps),
      };
    },
  }).data;
}
