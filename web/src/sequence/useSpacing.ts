import { setGap, suggestSpacing, type SpacingSuggestion } from '@oiseau/album/edits';
import type { Ticks } from '@oiseau/audio/time';
import { useEffect, useMemo, useState } from 'react';
import { useAlbum } from '../album/AlbumContext.js';
import { usePlayer, usePlayerState } from '../album/PlayerContext.js';
import { transitionStretch } from '../album/transition-stretch.js';
import { useNewNeighbours } from '../album/useNewNeighbours.js';
import { useStable } from '../ui/useStable.js';
import { t } from '../ui/messages.js';
import { useOutlines } from './Outlines.js';

/** Seconds that are heard before and after a transition. */
const AROUND = 4;

/** Gaps proposed for the part that is shown: played one after another, accepted, adjusted or skipped. */
export function useSpacing() {
  const { part, parts, edit, preview } = useAlbum('part', 'parts', 'edit', 'preview');
  const player = usePlayer();
  const outlines = useOutlines();
  const { ids: unheard, keepGap } = useNewNeighbours();
  const [onlyUnheard, setOnlyUnheard] = useState(unheard.size > 0);
  const [settled, setSettled] = useState<ReadonlySet<string>>(new Set());
  const [adjusted, setAdjusted] = useState<ReadonlyMap<string, Ticks>>(new Map());
  const [chosen, setChosen] = useState('');
  const rows = useMemo((): SpacingSuggestion[] => {
    const asked = part.songs.map(({ id }) => id).filter((id) => !onlyUnheard || unheard.has(id));
    const open = new Set(asked.filter((id) => !settled.has(id)));
    return suggestSpacing(parts, open, outlines, unheard).map((row) => ({
      ...row,
      gap: adjusted.get(row.song) ?? row.gap,
    }));
  }, [part, parts, outlines, unheard, onlyUnheard, settled, adjusted]);
  const inHand = rows.some(({ song }) => song === chosen) ? chosen : (rows[0]?.song ?? '');
  const rowOf = (id: string): SpacingSuggestion | undefined => rows.find(({ song }) => song === id);

  const { end } = useStable({ end: () => void preview(null) });
  const hearing = usePlayerState((state) => state.playing && state.hearing);
  // What was played on trial doesn't stay on the player.
  useEffect(() => {
    if (!hearing) end();
  }, [hearing, end]);
  useEffect(() => end, [end]);

  const play = (id: string): void => {
    const row = rowOf(id);
    if (!row) return;
    setChosen(id);
    const draft = preview((album) => setGap(album, id, row.gap));
    const stretch = draft && transitionStretch(draft.part.placement, id, AROUND);
    if (!stretch) return;
    void player.hear({ stretches: [stretch], loop: false });
  };
  /** Settles a row and selects the next one, which plays if a suggestion was playing. */
  const goOn = (id: string): void => {
    const place = rows.findIndex(({ song }) => song === id);
    const next = rows[place + 1] ?? rows[place - 1];
    setSettled((before) => new Set([...before, id]));
    setChosen(next?.song ?? '');
    if (hearing) {
      if (next) play(next.song);
      else player.stop();
    }
  };
  /** As one step. A gap that is right as it is counts as chosen all the same. */
  const take = (taken: readonly SpacingSuggestion[]): void => {
    preview(null);
    edit(
      t('{count, plural, one {# suggested gap} other {# suggested gaps}}', { count: taken.length }),
      (album) => taken.reduce((changed, { song, gap }) => setGap(changed, song, gap), album),
    );
    const now = new Map(part.songs.map(({ id, region }) => [id, region.gapBefore]));
    for (const { song, gap } of taken) if (now.get(song) === gap) keepGap(song);
  };
  return {
    rows,
    inHand,
    onlyUnheard,
    setOnlyUnheard,
    play,
    step: (by: number): void => {
      const place = rows.findIndex(({ song }) => song === inHand);
      setChosen(rows[Math.max(0, Math.min(rows.length - 1, place + by))]?.song ?? '');
    },
    accept: (id: string): void => {
      const row = rowOf(id);
      if (!row) return;
      take([row]);
      goOn(id);
    },
    acceptAll: (): void => {
      player.stop();
      take(rows);
      setSettled((before) => new Set([...before, ...rows.map(({ song }) => song)]));
    },
    skip: goOn,
    adjust: (id: string, gap: Ticks): void => setAdjusted((before) => new Map([...before, [id, gap]])),
  };
}
export type Spacing = ReturnType<typeof useSpacing>;
