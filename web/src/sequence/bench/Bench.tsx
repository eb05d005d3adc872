import {
  addIndex,
  framesToTicks,
  samples,
  samplesToTicks,
  setGap,
  ticks,
  TICKS_PER_FRAME,
  TICKS_PER_SECOND,
  trackAtIndex,
  waitBars,
  type Album,
  type Ticks,
} from '@oiseau/core';
import { Minus, Plus } from 'lucide-react';
import { useCallback, useMemo, useState } from 'react';
import { useAlbum } from '../../album/AlbumContext.js';
import type { MasterRecord } from '../../api/types.js';
import { PLAYER_RATE } from '../../player/player.js';
import { usePlayer, usePlayerState } from '../../player/PlayerContext.js';
import { trackAt } from '../../player/track-at.js';
import { useCanvas, type Draw } from '../../ui/canvas.js';
import { IconButton } from '../../ui/IconButton.js';
import { useNotices } from '../../ui/Notices.js';
import { useShortcuts } from '../../ui/useShortcuts.js';
import { Tabs } from '../../ui/Tabs.js';
import { useStored } from '../../ui/useStored.js';
import { useWheel } from '../../ui/useWheel.js';
import { changeWords } from '../change-words.js';
import type { Transitions } from '../useTransitions.js';
import { BARS_AT_A_TIME, BenchBeat } from './BenchBeat.js';
import { drawBench } from './bench-drawing.js';
import { useOutlines } from '../Outlines.js';
import { BenchMarks } from './BenchMarks.js';
import { BenchNumbers, type CommitEdit } from './BenchNumbers.js';
import { placedBefore, voiceOf, type BenchScene } from './bench-scene.js';
import { ALL_SNAPS } from './bench-snap.js';
import { FIRST_SPAN, SPANS, xOf, type BenchView } from './bench-view.js';
import { SnapMenu } from './SnapMenu.js';
import { useBenchDrag } from './useBenchDrag.js';
import { useLevel } from './useLevel.js';
import { useTempo } from './useTempo.js';

interface BenchProps {
  /** The track that begins. */
  readonly index: number;
  /** Everything after an edit stays where it is. */
  readonly hold: boolean;
  readonly onHold: (hold: boolean) => void;
  /** An edit of this transition; what follows moves along, or stays where it is. */
  readonly kept: (changed: Album) => Album;
  readonly transitions: Transitions;
  /** The album as a drag would leave it, to be heard; null when it was taken back. */
  readonly onDraft: (draft: Album | null) => void;
}

const SIDES = { spacing: 'Spacing', marks: 'Marks', beat: 'Beat' } as const;
type Side = keyof typeof SIDES;

/** One transition, laid open (design.md): it is dragged, typed and heard here. */
export function Bench(props: BenchProps) {
  const { album, mastersById } = useAlbum();
  const after = album.tracks[props.index];
  const master = after && mastersById.get(after.master);
  const before = trackAtIndex(album, props.index - 1);
  if (!after || !master) return null;
  return <OpenBench {...props} master={master} masterBefore={before && mastersById.get(before.master)} />;
}

function OpenBench({
  index,
  hold,
  onHold,
  kept,
  transitions,
  onDraft,
  master,
  masterBefore,
}: BenchProps & { master: MasterRecord; masterBefore: MasterRecord | undefined }) {
  const { album, layout, facts, edit } = useAlbum();
  const { tell } = useNotices();
  const player = usePlayer();
  const [zoom, setZoom] = useState(FIRST_SPAN);
  const [side, setSide] = useStored<Side>('oiseau-bench-side', 'spacing');
  const [snaps, setSnaps] = useStored('oiseau-snaps', ALL_SNAPS);

  const commit: CommitEdit = (changed, mergeKey) => {
    const final = kept(changed);
    edit(changeWords, () => final, mergeKey && `${mergeKey} ${index}`);
  };
  const { draft, held, heldView, handlers } = useBenchDrag({
    album,
    layout,
    facts,
    index,
    snaps,
    kept,
    onCommit: (changed) => edit(changeWords, () => changed),
    onDraft,
  });
  const shown = draft?.album ?? album;
  const placed = draft?.layout ?? layout;

  const span = SPANS[zoom] ?? 1;
  // The song that ends is the fixed point: what a gap moves is the other one.
  const anchor = placedBefore(layout, index)?.audioEnd ?? layout.tracks[index]?.audioStart ?? ticks(0);
  const ownView = useMemo((): BenchView => {
    const half = Math.round((span * TICKS_PER_SECOND) / 2);
    return { from: ticks(anchor - half), until: ticks(anchor + half) };
  }, [anchor, span]);
  const view = heldView ?? ownView;
  const scene = useBenchScene({
    index,
    album: shown,
    layout: placed,
    view,
    span,
    master,
    masterBefore,
  });

  const caught = draft?.caught ?? null;
  const draw = useCallback<Draw>(
    (context, width, height, palette) => {
      if (scene) drawBench(context, width, height, palette, scene, view, held, caught);
    },
    [scene, view, held, caught],
  );
  const canvas = useCanvas(draw);
  const zoomBy = (steps: number): void =>
    setZoom((now) => Math.max(0, Math.min(SPANS.length - 1, now + steps)));
  useWheel(canvas, ({ deltaY }) => zoomBy(deltaY < 0 ? 1 : -1));

  const trackBefore = trackAtIndex(shown, index - 1);
  const trackAfter = shown.tracks[index];
  const tempo = useTempo(trackBefore, placedBefore(placed, index)?.audioStart);
  const tap = (): void => {
    if (player.state.playing) tempo.tap();
    else transitions.hearEnding(index);
  };
  const wait = (bars: number): void => {
    if (trackBefore?.tempo) commit(waitBars(album, index, bars), 'wait');
    else tell('No beat is known yet: tap it (B) while the song before plays, or find it under “Beat”.');
  };
  const nudge = (by: number): void => {
    if (trackAfter) commit(setGap(album, index, ticks(trackAfter.gapBefore + by)), 'nudge');
  };
  const indexHere = (): void => {
    const now = samplesToTicks(samples(Math.round(player.heardNow())), PLAYER_RATE);
    const heard = trackAt(layout, now);
    const changed = heard === null || heard < 0 ? album : addIndex(album, heard, now, layout);
    if (changed === album) tell('An index point can stand where a track is heard, after its start mark.');
    else edit(changeWords, () => changed);
  };
  useShortcuts(
    {
      B: tap,
      W: () => wait(BARS_AT_A_TIME),
      'Shift+W': () => wait(-BARS_AT_A_TIME),
      'Alt+ArrowLeft': () => nudge(-TICKS_PER_FRAME),
      'Alt+ArrowRight': () => nudge(TICKS_PER_FRAME),
      I: indexHere,
    },
    true,
  );
  if (!scene) return null;
  return (
    <section className="bench" aria-label="Bench">
      <header>
        <h3>
          {trackBefore ? (
            <>
              {trackBefore.title || `Track ${index}`} <span className="text-secondary">into</span>{' '}
            </>
          ) : (
            <span className="text-secondary">The disc begins with </span>
          )}
          {trackAfter?.title || `Track ${index + 1}`}
        </h3>
        <SnapMenu choice={snaps} onChange={setSnaps} />
        <span className="text-secondary">{span >= 0.1 ? `${span} s` : `${span * 1000} ms`}</span>
        <IconButton
          icon={Minus}
          label="Show more around the transition"
          disabled={zoom === 0}
          onClick={() => zoomBy(-1)}
        />
        <IconButton
          icon={Plus}
          label="Show the transition closer"
          disabled={zoom === SPANS.length - 1}
          onClick={() => zoomBy(1)}
        />
      </header>
      <div className="bench-picture">
        <canvas
          ref={canvas}
          role="img"
          aria-label={`Transition into track ${index + 1}`}
          {...handlers(scene, view)}
        />
        <BenchPlayMark view={view} />
      </div>
      <Tabs label="Numbers of the transition" names={SIDES} chosen={side} onChoose={setSide} />
      {side === 'spacing' && (
        <BenchNumbers
          scene={scene}
          index={index}
          album={shown}
          masters={facts}
          hold={hold}
          onHold={onHold}
          onCommit={commit}
        />
      )}
      {side === 'marks' && (
        <BenchMarks
          scene={scene}
          index={index}
          album={shown}
          layout={placed}
          onCommit={commit}
          onIndexHere={indexHere}
        />
      )}
      {side === 'beat' && <BenchBeat track={trackBefore} tempo={tempo} onTap={tap} onWait={wait} />}
    </section>
  );
}

/** What lies on the Bench. */
function useBenchScene({
  index,
  album,
  layout,
  view,
  span,
  master,
  masterBefore,
}: {
  index: number;
  album: Album;
  layout: ReturnType<typeof useAlbum>['layout'];
  view: BenchView;
  span: number;
  master: MasterRecord;
  masterBefore: MasterRecord | undefined;
}): BenchScene | null {
  const outlines = useOutlines();
  const trackBefore = trackAtIndex(album, index - 1);
  const trackAfter = album.tracks[index];
  const before = placedBefore(layout, index);
  const after = layout.tracks[index];
  const inMaster = (track: Album['tracks'][number] | undefined, start: Ticks | undefined): Ticks =>
    ticks(view.from - (start ?? 0) + (track?.in ?? 0));
  const soundBefore = useLevel(
    masterBefore ?? master,
    outlines.get(trackBefore?.master ?? ''),
    inMaster(trackBefore, before?.audioStart),
    span,
  );
  const soundAfter = useLevel(
    master,
    outlines.get(trackAfter?.master ?? ''),
    inMaster(trackAfter, after?.audioStart),
    span,
  );
  return useMemo(() => {
    const voice = voiceOf(trackAfter, after, master, soundAfter);
    if (!voice || !after) return null;
    return {
      before: voiceOf(trackBefore, before, masterBefore, soundBefore),
      after: voice,
      startMark: framesToTicks(after.startMark),
      pause: after.pause === null ? null : framesToTicks(after.pause),
      indexes: after.indexes.map(framesToTicks),
    };
  }, [trackBefore, trackAfter, before, after, master, masterBefore, soundBefore, soundAfter]);
}

/** The place that is heard, where it is in sight. */
function BenchPlayMark({ view }: { view: BenchView }) {
  const position = usePlayerState((state) => state.position);
  const share = xOf((position / PLAYER_RATE) * TICKS_PER_SECOND, view, 1);
  if (share < 0 || share > 1) return null;
  return <span className="master-mark" style={{ left: `${100 * share}%` }} aria-hidden />;
}
