import type { Part } from '@oiseau/album/layout';
import type { Song } from '@oiseau/album/model';
import { EarOff, FoldVertical, Minus, Plus, UnfoldVertical } from 'lucide-react';
import { useNewNeighbours } from '../../album/useNewNeighbours.js';
import { IconButton } from '../../ui/IconButton.js';
import type { SnapChoice } from './bench-snap.js';
import { SPANS, TOPS_DB } from './bench-view.js';
import { SnapMenu } from './SnapMenu.js';
import { rich, t } from '../../ui/messages.js';

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

const titleOf = (song: Song | undefined): string => song?.title || t('Untitled');

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
            {rich(
              '{before} <quiet>into</quiet>',
              { quiet: <span className="text-secondary" /> },
              { before: titleOf(before) },
            )}{' '}
          </>
        ) : (
          <span className="text-secondary">
            {kind === 'disc' ? t('Start of disc:') : t('Start of side:')}{' '}
          </span>
        )}
        {titleOf(after)}
      </h3>
      {after && <NotYetHeard id={after.id} />}
      <SnapMenu choice={snaps} onChange={onSnaps} />
      <span className="text-secondary">
        {span >= 0.1 ? t('{span} s', { span }) : t('{span} ms', { span: span * 1000 })}
      </span>
      <IconButton
        icon={Minus}
        label={t('Show more around the transition')}
        disabled={zoom === 0}
        onClick={() => onZoom(-1)}
      />
      <IconButton
        icon={Plus}
        label={t('Show the transition closer')}
        disabled={zoom === SPANS.length - 1}
        onClick={() => onZoom(1)}
      />
      <span className="text-secondary" title={t('Level at the edges')}>
        {`${TOPS_DB[quiet] ?? 0} dB`.replace('-', '−')}
      </span>
      <IconButton
        icon={FoldVertical}
        label={t('Show louder sound')}
        hint={t('Show louder sound (Shift V, or the wheel with Shift)')}
        disabled={quiet === 0}
        onClick={() => onQuiet(-1)}
      />
      <IconButton
        icon={UnfoldVertical}
        label={t('Show quieter sound')}
        hint={t('Show quieter sound, down to where tails die away (V, or the wheel with Shift)')}
        disabled={quiet === TOPS_DB.length - 1}
        onClick={() => onQuiet(1)}
      />
    </header>
  );
}

/** An edition’s new pair of neighbours: played or set, the mark goes. */
function NotYetHeard({ id }: { readonly id: string }) {
  const { ids, keepGap } = useNewNeighbours();
  if (!ids.has(id)) return null;
  return (
    <span className="not-yet-heard">
      <IconButton
        icon={EarOff}
        label={t('Not yet heard: keep the gap')}
        hint={t('Not yet heard: play the transition, or press to keep the gap as it is')}
        onClick={() => keepGap(id)}
      />
    </span>
  );
}
