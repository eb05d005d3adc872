import type { StageName } from '@oiseau/audio/stages';
import type { ReductionFigures } from '@oiseau/album/measured';
import { Eye, EyeOff, Plus, X } from 'lucide-react';
import type { ReactNode } from 'react';
import { Button } from 'react-bootstrap';
import { formatDb } from '../ui/format.js';
import { IconButton } from '../ui/IconButton.js';
import type { SoundDesk } from './useSoundDesk.js';

/** One stage: there or not, left out for a moment or not, and what it takes away. */
export function Stage({
  name,
  title,
  desk,
  isThere,
  taken,
  onAdd,
  onRemove,
  children,
}: {
  name: StageName;
  title: string;
  desk: SoundDesk;
  isThere: boolean;
  /** What it takes away; left out of a stage that takes nothing. */
  taken?: ReductionFigures | null;
  onAdd?: () => void;
  onRemove: () => void;
  children: ReactNode;
}) {
  const out = desk.leftOut.has(name);
  return (
    <section className={`stage ${isThere ? '' : 'absent'} ${out ? 'left-out' : ''}`} aria-label={title}>
      <header>
        <h3>{title}</h3>
        {isThere ? (
          <>
            {out && <span className="text-secondary">left out</span>}
            <IconButton
              icon={out ? EyeOff : Eye}
              label={`${out ? 'Stop bypassing' : 'Bypass'} the ${title.toLowerCase()}`}
              hint={
                out ? 'Listen with this stage again' : 'Listen without this stage; the album isn’t changed'
              }
              onClick={() => desk.leaveOut(name, !out)}
            />
            <IconButton
              icon={X}
              label={`Remove the ${title.toLowerCase()}`}
              hint="Take it off"
              onClick={onRemove}
            />
          </>
        ) : (
          onAdd && (
            <Button size="sm" variant="link" aria-label={`Add ${title.toLowerCase()}`} onClick={onAdd}>
              <Plus size={14} aria-hidden /> Add
            </Button>
          )
        )}
      </header>
      {(isThere || !onAdd) && children}
      {isThere && taken !== undefined && (
        <p className="taken text-secondary">
          {taken === null
            ? 'Measuring the gain reduction'
            : taken.mostDb === 0
              ? 'no gain reduction'
              : `gain reduction up to ${formatDb(taken.mostDb)} dB, ${Math.max(1, Math.round(100 * taken.share))} % of the time`}
        </p>
      )}
    </section>
  );
}
