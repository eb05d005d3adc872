import { mastersPlayed, trackNumber, type Album, type MasterFacts } from '@oiseau/album/model';
import type { Part } from '@oiseau/album/layout';
import { planDeliverable, untouchedSongs } from '@oiseau/render';
import type { PcmSource } from '@oiseau/audio/pcm';
import type { MasterRecord } from '@oiseau/api';
import { useMemo } from 'react';
import { useAlbum } from '../album/AlbumContext.js';

type Facts = MasterFacts & Pick<PcmSource, 'format'>;

/** Facts of every master that an album plays; what the server has not told of yet counts as a plain CD master. */
const ratesOf = (album: Album, masters: ReadonlyMap<string, MasterRecord>): ReadonlyMap<string, Facts> =>
  new Map(
    mastersPlayed(album).map((master) => [
      master,
      masters.get(master)?.info ?? { rate: 44_100, length: 0, format: 'int16' as const },
    ]),
  );

/** Numbers over the whole album, as a choice of tracks counts them. */
function numbersOf(parts: readonly Part[], ids: readonly string[]): number[] {
  let before = 0;
  return parts.flatMap((part) => {
    const numbers = ids.flatMap((id) => {
      const number = trackNumber(part, id);
      return number === null ? [] : [before + number];
    });
    before += part.tracks.length;
    return numbers;
  });
}

/**
 * What each deliverable of the album would write.
 * @param revision the number that a render would get
 * @param open name of the deliverable to be shown; the first where there is none of that name
 */
export function useRenderPlans(revision: number, open: string | null) {
  const { album, edition, parts, mastersById } = useAlbum('album', 'edition', 'parts', 'mastersById');
  // A render numbers a revision on the day on which it is asked for, by the server’s clock.
  const today = new Date().toISOString().slice(0, 10);
  const masters = useMemo(() => ratesOf(album, mastersById), [album, mastersById]);
  const plans = useMemo(
    () =>
      album.deliverables.map((deliverable) =>
        planDeliverable(deliverable, { album, edition, parts, masters, revision, revisionDate: today }),
      ),
    [album, edition, parts, masters, revision, today],
  );
  const shown = plans.find(({ deliverable }) => deliverable.name === open) ?? plans[0];
  /** Numbers of the tracks that the shown one passes through bit for bit. */
  const untouched = useMemo(
    () => (shown ? numbersOf(parts, untouchedSongs(shown, parts, masters)) : []),
    [shown, parts, masters],
  );
  return { plans, shown, untouched };
}
