import {
  albumOfEdition,
  mastersPlayed,
  trackNumber,
  type Album,
  type Deliverable,
  type MasterFacts,
} from '@oiseau/album/model';
import { layOutAlbum, type Part } from '@oiseau/album/layout';
import { planDeliverable, untouchedSongs, type Plan } from '@oiseau/render';
import type { PcmSource } from '@oiseau/audio/pcm';
import type { MasterRecord } from '@oiseau/api';
import { useMemo } from 'react';
import { useAlbum } from '../album/AlbumContext.js';

type Facts = MasterFacts & Pick<PcmSource, 'format'>;

/** The deliverables of one edition. */
export interface PlanGroup {
  /** Name of the edition; empty: the album has none. */
  readonly edition: string;
  readonly draft: boolean;
  /** The edition as an album of its own. */
  readonly album: Album;
  readonly parts: readonly Part[];
  readonly plans: readonly Plan[];
}

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

/** All editions as albums of their own; the one that is shown is laid out already. */
function useEditions(): readonly Omit<PlanGroup, 'plans'>[] {
  const { editing, album, edition, parts, facts } = useAlbum('editing', 'album', 'edition', 'parts', 'facts');
  const whole = editing.album;
  return useMemo(() => {
    if (whole.editions.length === 0) return [{ edition: '', draft: false, album, parts }];
    return whole.editions.map((each) => {
      const { name, draft } = each;
      if (name === edition) return { edition, draft, album, parts };
      const own = albumOfEdition(whole, each);
      return { edition: name, draft, album: own, parts: layOutAlbum(own, facts) };
    });
  }, [whole, album, edition, parts, facts]);
}

/**
 * What each deliverable of the album would write, by edition.
 * @param revision the number that a render would get
 * @param open name of the deliverable to be shown; the edition’s first where it has none of that name
 */
export function useRenderPlans(revision: number, open: string | null) {
  const { edition, mastersById } = useAlbum('edition', 'mastersById');
  // A render numbers a revision on the day on which it is asked for, by the server’s clock.
  const today = new Date().toISOString().slice(0, 10);
  const editions = useEditions();
  const groups = useMemo(
    () =>
      editions.map((of): PlanGroup => {
        const { album, parts } = of;
        const context = { ...{ album, edition: of.edition, parts, revision, revisionDate: today } };
        const masters = ratesOf(album, mastersById);
        const planOf = (each: Deliverable): Plan => planDeliverable(each, { ...context, masters });
        return { ...of, plans: album.deliverables.map(planOf) };
      }),
    [editions, mastersById, revision, today],
  );
  const inHand = groups.find((group) => group.edition === edition);
  const shown = inHand?.plans.find(({ deliverable }) => deliverable.name === open) ?? inHand?.plans[0];
  /** Numbers of the tracks that the shown one passes through bit for bit. */
  const untouched = useMemo(
    () =>
      shown && inHand
        ? numbersOf(inHand.parts, untouchedSongs(shown, inHand.parts, ratesOf(inHand.album, mastersById)))
        : [],
    [shown, inHand, mastersById],
  );
  return { groups, shown, untouched };
}
