import { masterTicks } from '@oiseau/album/model';
import { offerAlternates, type AlternateOffer } from '@oiseau/album/edits';
import { ticksToSeconds } from '@oiseau/audio/time';
import type { MasterRecord } from '@oiseau/api';
import { useMemo } from 'react';
import { useAlbum } from '../album/AlbumContext.js';
import { useStored } from '../ui/useStored.js';
import { versionsOf } from './versions.js';

/** Masters as they are offered for a place: versions that were replaced are out of the way. */
export const currentMasters = (masters: readonly MasterRecord[]): MasterRecord[] => {
  const versions = versionsOf(masters);
  return masters.filter(({ sha256 }) => !versions.get(sha256)?.replacedBy);
};

/** Masters of the album that look like other recordings of its songs, except declined ones. */
export function useAlternateOffers(): {
  readonly offers: readonly AlternateOffer[];
  readonly decline: () => void;
} {
  const { id, album, masters } = useAlbum('id', 'album', 'masters');
  const [declined, setDeclined] = useStored<readonly string[]>(`oiseau-no-alternates-${id}`, []);
  const offers = useMemo(() => {
    const known = currentMasters(masters).map(({ sha256, name, info }) => ({
      ...{ sha256, name },
      seconds: ticksToSeconds(masterTicks(info)),
    }));
    return offerAlternates(album, known).filter(({ master }) => !declined.includes(master));
  }, [album, masters, declined]);
  return {
    offers,
    decline: () => setDeclined([...declined, ...offers.map(({ master }) => master)]),
  };
}
