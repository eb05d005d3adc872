import type { Part } from '@oiseau/album/layout';
import { songBefore, songOf, trackNumber } from '@oiseau/album/model';
import { ticks, TICKS_PER_SECOND } from '@oiseau/audio/time';
import type { MasterRecord } from '@oiseau/api';
import { useCallback, useMemo, useState } from 'react';
import { useAlbum } from '../../album/AlbumContext.js';
import { numberedName } from '../../album/song-name.js';
import { PLAYER_RATE } from '../../player/player.js';
import { useHeardPart, usePlayer, usePlayerState } from '../../album/PlayerContext.js';
import { useCanvas, type Draw } from '../../ui/canvas.js';
import { usePointerDrag } from '../../ui/drag.js';
import { TabPanel, TabPlace, Tabs } from '../../ui/Tabs.js';
import { useShortcuts } from '../../ui/useShortcuts.js';
import { useStored } from '../../ui/useStored.js';
import { useWheel } from '../../ui/useWheel.js';
import type { KeepAfter } from '../useTrackActions.js';
import type { Transitions } from '../useTransitions.js';
import { BARS_AT_A_TIME, BenchBeat } from './BenchBeat.js';
import { drawBench } from './bench-drawing.js';
import { BenchHead } from './BenchHead.js';
import { BenchMarks } from './BenchMarks.js';
import { BenchNumbers } from './BenchNumbers.js';
import { ALL_SNAPS, type SnapChoice } from './bench-snap.js';
import { FIRST_SPAN, SPANS, TOPS_DB, xOf, type BenchView } from './bench-view.js';
import { useBenchActions, type CommitEdit } from './useBenchActions.js';
import { useBenchDrag } from './useBenchDrag.js';
import { placedBefore, useBenchScene } from './useBenchScene.js';
import { useTempo } from './useTempo.js';
import { t } from '../../ui/messages.js';

interface BenchProps {
  /** The song that begins. */
  readonly id: string;
  /** Everything after an edit stays where it is. */
  readonly hold: boolean;
  readonly onHold: (hold: boolean) => void;
  readonly kept: KeepAfter;
  readonly transitions: Transitions;
  /** The part as a drag would leave it; null when it was taken back. */
  readonly onDraft: (draft: Part | null) => void;
}

const SIDES = { spacing: t('Spacing'), marks: t('Marks'), beat: t('Beat') } as const;
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

interface OpenBenchProps extends BenchProps {
  readonly master: MasterRecord;
  readonly masterBefore: MasterRecord | undefined;
}

/** The picture of the transition: how far it reaches and how high, what is drawn, and what is dragged on it. */
function useBenchPicture(
  { id, kept, onDraft, master, masterBefore }: OpenBenchProps,
  snaps: SnapChoice,
  onCommit: CommitEdit,
) {
  const { part, draft } = useAlbum('part', 'draft');
  const [zoom, setZoom] = useState(FIRST_SPAN);
  const [quiet, setQuiet] = useState(0);
  const { dragged, held, heldView, drag } = useBenchDrag({ id, snaps, kept, onCommit, onDraft });
  const placed = draft?.part ?? part;
  const span = SPANS[zoom] ?? 1;
  // The song that ends is the fixed point: what a gap moves is the other one.
  const anchor = placedBefore(part, id)?.end ?? part.placement.songs.get(id)?.start ?? ticks(0);
  const ownView = useMemo((): BenchView => {
    const half = Math.round((span * TICKS_PER_SECOND) / 2);
    return { start: ticks(anchor - half), end: ticks(anchor + half) };
  }, [anchor, span]);
  const view = heldView ?? ownView;
  const scene = useBenchScene({ id, part: placed, view, span, master, masterBefore });
  const top = TOPS_DB[quiet] ?? 0;
  const caught = dragged?.caught ?? null;
  const draw = useCallback<Draw>(
    (context, width, height, palette) => {
      if (scene) drawBench(context, width, height, palette, scene, { view, top }, held, caught);
    },
    [scene, view, top, held, caught],
  );
  const canvas = useCanvas(draw);
  const zoomBy = (steps: number): void =>
    setZoom((now) => Math.max(0, Math.min(SPANS.length - 1, now + steps)));
  const quietBy = (steps: number): void =>
    setQuiet((now) => Math.max(0, Math.min(TOPS_DB.length - 1, now + steps)));
  // With Shift a wheel may turn sideways.
  useWheel(canvas, ({ deltaX, deltaY, shiftKey }) =>
    (shiftKey ? quietBy : zoomBy)((deltaY || deltaX) < 0 ? 1 : -1),
  );
  const pointing = usePointerDrag(drag(scene, view));
  return { placed, view, scene, canvas, pointing, zoom, zoomBy, quiet, quietBy };
}

function OpenBench(props: OpenBenchProps) {
  const { id, hold, onHold, kept, transitions } = props;
  const { album, part, facts, draft } = useAlbum('album', 'part', 'facts', 'draft');
  const player = usePlayer();
  const [side, setSide] = useStored<Side>('oiseau-bench-side', 'spacing');
  const [snaps, setSnaps] = useStored('oiseau-snaps', ALL_SNAPS);
  const { commit, wait, lastBeat, nudge, indexHere } = useBenchActions(id, songBefore(part, id), kept);
  const picture = useBenchPicture(props, snaps, commit);
  const { placed, view, scene, canvas, pointing, zoom, zoomBy, quiet, quietBy } = picture;
  const before = songBefore(placed, id);
  const tempo = useTempo(before, placedBefore(placed, id)?.start);
  const tap = (): void => {
    if (player.state.playing) tempo.tap();
    else transitions.hearEnding(id);
  };
  useShortcuts(
    {
      B: tap,
      W: () => wait(BARS_AT_A_TIME),
      'Shift+W': () => wait(-BARS_AT_A_TIME),
      E: lastBeat,
      F: tempo.estimate,
      H: tempo.half,
      D: tempo.double,
      'Alt+ArrowLeft': () => nudge(-1),
      'Alt+ArrowRight': () => nudge(1),
      I: indexHere,
      V: () => quietBy(1),
      'Shift+V': () => quietBy(-1),
    },
    true,
  );
  if (!scene) return null;
  const shown = draft?.album ?? album;
  return (
    <section className="bench" aria-label={t('Bench')}>
      <BenchHead
        kind={part.kind}
        before={before}
        after={songOf(placed, id)}
        snaps={snaps}
        onSnaps={setSnaps}
        zoom={zoom}
        onZoom={zoomBy}
        quiet={quiet}
        onQuiet={quietBy}
      />
      <div className="bench-picture">
        <canvas
          ref={canvas}
          role="img"
          aria-label={t('Transition into {track}', { track: numberedName(trackNumber(part, id)) })}
          {...pointing}
        />
        <BenchPlayMark view={view} />
      </div>
      <TabPlace id="bench" chosen={side} onChoose={setSide}>
        <Tabs label={t('Values of the transition')} names={SIDES} />
        <TabPanel chosen={side}>
          {side === 'spacing' && (
            <BenchNumbers scene={scene} masters={facts} hold={hold} onHold={onHold} onCommit={commit} />
          )}
          {side === 'marks' && (
            <BenchMarks scene={scene} album={shown} part={placed} onCommit={commit} onIndexHere={indexHere} />
          )}
          {side === 'beat' && (
            <BenchBeat song={before} tempo={tempo} onTap={tap} onWait={wait} onLastBeat={lastBeat} />
          )}
        </TabPanel>
      </TabPlace>
    </section>
  );
}

/** The place that is heard, where it is in sight. */
function BenchPlayMark({ view }: { view: BenchView }) {
  const { part } = useAlbum('part');
  const heard = useHeardPart();
  const position = usePlayerState((state) => state.position);
  const share = xOf((position / PLAYER_RATE) * TICKS_PER_SECOND, view, 1);
  if (heard.number !== part.number || share < 0 || share > 1) return null;
  return <span className="master-mark" style={{ left: `${100 * share}%` }} aria-hidden />;
}
