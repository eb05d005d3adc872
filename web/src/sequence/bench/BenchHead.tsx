import type { Part } from '@oiseau/album/layout';
import type { Song } from '@oiseau/album/model';
import { FoldVertical, Minus, Plus, UnfoldVertical } from 'lucide-react';
import { IconButton } from '../../ui/IconButton.js';
import type { SnapChoice } from './bench-snap.js';
import { SPANS, TOPS_DB } from './bench-view.js';
import { SnapMenu } from './SnapMenu.js';

interface BenchHeadProps {
  /** A disc or a side. */
  readonly kind: Part['kind'];
  /** The song that ends, if there is one. */
  readonly before: Song | undefined;
  readonly after: Song | undefined;
  readonly snaps: SnapChoice;
  readonly onSnaps: (snaps: SnapChoice) => void;
  /** Place in `SPANS`. */
  readonly zoom: number;
  readonly onZoom: (steps: number) => void;
  /** Place in `TOPS_DB`. */
  readonly quiet: number;
  readonly onQuiet: (steps: number) => void;
}

const titleOf = (song: Song | undefined): string => song?.title || 'Untitled';

/** Which transition lies on the Bench, what it snaps to, how much of it is in sight, and how quiet a sound can be seen. */
export function BenchHead({
  kind,
  before,
  after,
  snaps,
  onSnaps,
  zoom,
  onZoom,
  quiet,
  onQuiet,
}: BenchHeadProps) {
  const span = SPANS[zoom] ?? 1;
  return (
    <header>
      <h3>
        {before ? (
          <>
            {titleOf(before)} <span className="text-secondary">into</span>{' '}
          </>
        ) : (
          <span className="text-secondary">Start of {kind}: </span>
        )}
        {titleOf(after)}
      </h3>
      <SnapMenu choice={snaps} onChange={onSnaps} />
      <span className="text-secondary">{span >= 0.1 ? `${span} s` : `${span * 1000} ms`}</span>
      <IconButton
        icon={Minus}
        label="Show more around the transition"
        disabled={zoom === 0}
        onClick={() => onZoom(-1)}
      />
      <IconButton
        icon={Plus}
        label="Show the transition closer"
        disabled={zoom === SPANS.length - 1}
        onClick={() => onZoom(1)}
      />
      <span className="text-secondary" title="Level at the edges">
        {`${TOPS_DB[quiet] ?? 0} dB`.replace('-', '−')}
      </span>
      <IconButton
        icon={FoldVertical}
        label="Show louder sound"
        hint="Show louder sound (Shift V, or the wheel with Shift)"
        disabled={quiet === 0}
        onClick={() => onQuiet(-1)}
      />
      <IconButton
        icon={UnfoldVertical}
        label="Show quieter sound"
        hint="Show quieter sound, down to where tails die away (V, or the wheel with Shift)"
        disabled={quiet === TOPS_DB.length - 1}
        onClick={() => onQuiet(1)}
      />
    </header>
  );
}
