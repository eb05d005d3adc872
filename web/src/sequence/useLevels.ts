import { editRegion, limiterForecast, matchedGains, type TrackLevel } from '@oiseau/album/edits';
import { songOf, type Album } from '@oiseau/album/model';
import { intervalLength, ticksToSeconds } from '@oiseau/audio/time';
import { useState } from 'react';
import { useAlbum } from '../album/AlbumContext.js';
import { useHeardFigures } from '../album/SoundsContext.js';
import { useOutlines } from './Outlines.js';
import { t } from '../ui/messages.js';

/** Of a limiter that is set here, ms. */
const LIMITER_RELEASE_MS = 100;

/** The levels of the tracks in hand, and the gains that would match them to one of them. @param chosen the track that they are matched to at first */
export function useLevels(chosen: string) {
  const [reference, setReference] = useState(chosen);
  const [ceiling, setCeiling] = useState(-1);
  const [limited, setLimited] = useState<ReadonlySet<string>>(new Set());
  const [draft, setDraft] = useState<{ readonly id: string; readonly gainDb: number } | null>(null);
  const { part, edit } = useAlbum('part', 'edit');
  const { tracks } = part;
  const levels = useTrackLevels(draft);
  const outlines = useOutlines();
  const model = tracks.findIndex(({ id }) => id === reference);
  const reachable = matchedGains(levels, model, ceiling);
  const forecasts = tracks.map(({ id, region }, i) => {
    const [level, of, outline] = [levels[i], levels[model], outlines.get(region.master)];
    return id === reference || !level || !of || !outline
      ? null
      : limiterForecast(level, of, ceiling, outline);
  });
  const isLimited = (i: number): boolean => Boolean(forecasts[i]) && limited.has(tracks[i]?.id ?? '');
  const gains = reachable.map((gain, i) => (isLimited(i) ? (forecasts[i]?.gainDb ?? gain) : gain));
  const changed = levels.filter(({ gainDb }, i) => gains[i] !== gainDb).length;
  const matchedAlbum = (before: Album): Album =>
    tracks.reduce((matching, { id, region }, i) => {
      const limiter = { drive: 0, ceiling, release: LIMITER_RELEASE_MS };
      const sound = isLimited(i) ? { ...region.sound, limiter } : region.sound;
      return editRegion(matching, id, { gainDb: gains[i] ?? region.gainDb, sound });
    }, before);
  return {
    ...{ tracks, levels, reference, setReference, ceiling, setCeiling, setDraft },
    ...{ forecasts, isLimited, gains, changed },
    matched: levels.map((level, i) => ({ ...level, gainDb: gains[i] ?? level.gainDb })),
    limit: (id: string, on: boolean): void =>
      setLimited(new Set([...limited].filter((each) => each !== id).concat(on ? [id] : []))),
    take: (): void => {
      const title = songOf(part, reference)?.title ?? '';
      edit(
        t('loudness of {changed, plural, one {# track} other {# tracks}} matched to “{title}”', {
          changed,
          title,
        }),
        matchedAlbum,
      );
    },
  };
}

/** @param draft a gain that is dragged */
function useTrackLevels(draft: { readonly id: string; readonly gainDb: number } | null): TrackLevel[] {
  const { album, part } = useAlbum('album', 'part');
  const figures = useHeardFigures();
  return part.tracks.map(({ id, region }) => {
    const heard = figures.get(id);
    const before = (figure: number | null | undefined): number | null =>
      figure == null ? null : figure - region.gainDb;
    const placed = part.placement.songs.get(id);
    return {
      // Matching tells of a level before its gain; behind a compressor or limiter it is unknown until measured again.
      integratedLufs: before(heard?.integratedLufs),
      truePeakDbtp: before(heard?.truePeakDbtp),
      isLimited: (album.sound.limiter ?? region.sound.limiter)?.ceiling !== undefined,
      gainDb: draft?.id === id ? draft.gainDb : region.gainDb,
      length: placed ? ticksToSeconds(intervalLength(placed)) : 0,
    };
  });
}

export type Levels = ReturnType<typeof useLevels>;
