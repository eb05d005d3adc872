import { readOutline, heardFigures, type HeardFigures, type SoundOutline } from '@oiseau/album/measured';
import type { Part } from '@oiseau/album/layout';
import { addressOf, CONTRACT, mayDo, type SoundRecord } from '@oiseau/api';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import {
  createContext,
  useContext,
  useEffect,
  useMemo,
  useState,
  useSyncExternalStore,
  type ReactNode,
} from 'react';
import { useVisitor } from '../access/VisitorContext.js';
import { Measurements, NOTHING_KNOWN, type KnownSounds } from '../workspace/measurements.js';
import { useAlbum, useOpenedAlbum } from './AlbumContext.js';
import { t } from '../ui/messages.js';

const SoundsContext = createContext<KnownSounds>(NOTHING_KNOWN);

export const useSounds = (): KnownSounds => useContext(SoundsContext);

/** What is measured of the album that is open, for all views. */
export function SoundsProvider({ children }: { children: ReactNode }) {
  const { id, store } = useOpenedAlbum();
  const queries = useQueryClient();
  // Who only listens has nothing measured.
  const works = mayDo(useVisitor().role, 'work');
  const [measurements] = useState(() => new Measurements(id, store, queries));
  useEffect(() => (works ? measurements.attend() : undefined), [works, measurements]);
  const known = useSyncExternalStore(measurements.subscribe, () => measurements.known);
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
      if (!response.ok) throw new Error(t('The waveform couldn’t be loaded.'));
      return readOutline(await response.arrayBuffer());
    },
  }).data;
}
