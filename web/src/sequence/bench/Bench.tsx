import {
  addIndex,
  framesToTicks,
  samples,
  samplesToTicks,
  setGap,
  ticks,
  TICKS_PER_FRAME,
  songAt,
  songBefore,
  songOf,
  TICKS_PER_SECOND,
  trackMarks,
  trackNumber,
  waitBars,
  type Album,
  type Interval,
  type Part,
  type Song,
  type Ticks,
} from '@oiseau/core';
import { Minus, Plus } from 'lucide-react';
import { useCallback, useMemo, useState } from 'react';
import { useAlbum } from '../../album/AlbumContext.js';
import { numberedName } from '../../album/song-name.js';
import type { MasterRecord } from '@oiseau/api';
import { PLAYER_RATE } from '../../player/player.js';
import { usePlayer, usePlayerState } from '../../player/PlayerContext.js';
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
import { voiceOf, type BenchScene } from './bench-scene.js';
import { ALL_SNAPS } from './bench-snap.js';
import { FIRST_SPAN, SPANS, xOf, type BenchView } from './bench-view.js';
import { usePointerDrag } from '../../ui/drag.js';
import { SnapMenu } from './SnapMenu.js';
import { useBenchDrag } from './useBenchDrag.js';
import { useLevel } from './useLevel.js';
import { useTempo } from './useTempo.js';

interface BenchProps {
  /** The song that begins. */
  readonly id: string;
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

/** One transition, laid open: it is dragged, typed and heard here. */
export function Bench(props: BenchProps) {
  const { part, mastersById } = useAlbum('part', 'mastersById');
  const after = songOf(part, props.id);
  const master = after && mastersById.get(after.region.master);
  const before = songBefore(part, props.id);
  if (!after || !master) return null;
  return (
    <OpenBench {...props} master={master} masterBefore={before && mastersById.get(before.region.master)} />
  );
}

function OpenBench({
  id,
  hold,
  onHold,
  kept,
  transitions,
  onDraft,
  master,
  masterBefore,
}: BenchProps & { master: MasterRecord; masterBefore: MasterRecord | undefined }) {
  const { album, part, facts, edit } = useAlbum('album', 'part', 'facts', 'edit');
  const { tell } = useNotices();
  const player = usePlayer();
  const [zoom, setZoom] = useState(FIRST_SPAN);
  const [side, setSide] = useStored<Side>('oiseau-bench-side', 'spacing');
  const [snaps, setSnaps] = useStored('oiseau-snaps', ALL_SNAPS);

  const commit: CommitEdit = (changed, mergeKey) => {
    const final = kept(changed);
    edit(changeWords, () => final, mergeKey && `${mergeKey} ${id}`);
  };
  const { draft, held, heldView, drag } = useBenchDrag({
    album,
    part,
    facts,
    snaps,
    kept,
    onCommit: (changed) => edit(changeWords, () => changed),
    onDraft,
  });
  const shown = draft?.album ?? album;
  const placed = draft?.part ?? part;

  const span = SPANS[zoom] ?? 1;
  // The song that ends is the fixed point: what a gap moves is the other one.
  const anchor = placedBefore(part, id)?.end ?? part.placement.songs.get(id)?.start ?? ticks(0);
  const ownView = useMemo((): BenchView => {
    const half = Math.round((span * TICKS_PER_SECOND) / 2);
    return { start: ticks(anchor - half), end: ticks(anchor + half) };
  }, [anchor, span]);
  const view = heldView ?? ownView;
  const scene = useBenchScene({
    id,
    part: placed,
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

  const before = songBefore(placed, id);
  const after = songOf(placed, id);
  const tempo = useTempo(before, placedBefore(placed, id)?.start);
  const tap = (): void => {
    if (player.state.playing) tempo.tap();
    else transitions.hearEnding(id);
  };
  const wait = (bars: number): void => {
    if (before?.marks.tempo) commit(waitBars(album, id, bars), 'wait');
    else tell('No beat is known yet: tap it (B) while the song before plays, or find it under “Beat”.');
  };
  const nudge = (by: number): void => {
    if (after) commit(setGap(album, id, ticks(after.region.gapBefore + by)), 'nudge');
  };
  const indexHere = (): void => {
    const now = samplesToTicks(samples(Math.round(player.heardNow())), PLAYER_RATE);
    const heard = songAt(part.placement, now);
    const changed = heard === null ? album : addIndex(album, heard, now, part);
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
  const pointing = usePointerDrag(drag(scene, view));
  if (!scene) return null;
  return (
    <section className="bench" aria-label="Bench">
      <header>
        <h3>
          {before ? (
            <>
              {before.title || 'Untitled'} <span className="text-secondary">into</span>{' '}
            </>
          ) : (
            <span className="text-secondary">The {part.kind} begins with </span>
          )}
          {after?.title || 'Untitled'}
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
          aria-label={`Transition into ${numberedName(trackNumber(part, id))}`}
          {...pointing}
        />
        <BenchPlayMark view={view} />
      </div>
      <Tabs label="Numbers of the transition" names={SIDES} chosen={side} onChoose={setSide} />
      {side === 'spacing' && (
        <BenchNumbers
          scene={scene}
          album={shown}
          masters={facts}
          hold={hold}
          onHold={onHold}
          onCommit={commit}
        />
      )}
      {side === 'marks' && (
        <BenchMarks scene={scene} album={shown} part={placed} onCommit={commit} onIndexHere={indexHere} />
      )}
      {side === 'beat' && <BenchBeat song={before} tempo={tempo} onTap={tap} onWait={wait} />}
    </section>
  );
}

/** What sounds before a song in its part: before track 1 the hidden song, if there is one. */
const placedBefore = (part: Part, id: string): Interval<Ticks> | undefined =>
  part.placement.songs.get(songBefore(part, id)?.id ?? '');

/** What lies on the Bench. */
function useBenchScene({
  id,
  part,
  view,
  span,
  master,
  masterBefore,
}: {
  id: string;
  part: Part;
  view: BenchView;
  span: number;
  master: MasterRecord;
  masterBefore: MasterRecord | undefined;
}): BenchScene | null {
  const outlines = useOutlines();
  const songBegins = songOf(part, id);
  const songEnds = songBefore(part, id);
  const before = placedBefore(part, id);
  const after = part.placement.songs.get(id);
  const inMaster = (song: Song | undefined, start: Ticks | undefined): Ticks =>
    ticks(view.start - (start ?? 0) + (song?.region.in ?? 0));
  const soundBefore = useLevel(
    masterBefore ?? master,
    outlines.get(songEnds?.region.master ?? ''),
    inMaster(songEnds, before?.start),
    span,
  );
  const soundAfter = useLevel(
    master,
    outlines.get(songBegins?.region.master ?? ''),
    inMaster(songBegins, after?.start),
    span,
  );
  return useMemo(() => {
    const voice = voiceOf(songBegins, after, master, soundAfter);
    const marks = trackMarks(part).find((track) => track.id === id);
    if (!voice || !marks) return null;
    return {
      before: voiceOf(songEnds, before, masterBefore, soundBefore),
      after: voice,
      startMark: marks.start,
      pause: marks.pause,
      indexes: (part.disc?.tracks.get(id)?.indexes ?? []).map(framesToTicks),
    };
  }, [id, part, songEnds, songBegins, before, after, master, masterBefore, soundBefore, soundAfter]);
}

/** The place that is heard, where it is in sight. */
function BenchPlayMark({ view }: { view: BenchView }) {
  const position = usePlayerState((state) => state.position);
  const share = xOf((position / PLAYER_RATE) * TICKS_PER_SECOND, view, 1);
  if (share < 0 || share > 1) return null;
  return <span className="master-mark" style={{ left: `${100 * share}%` }} aria-hidden />;
}
