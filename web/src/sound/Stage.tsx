import type { StageName } from '@oiseau/audio/stages';
import type { TakenFigures } from '@oiseau/album/measured';
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
  taken?: TakenFigures | null;
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
              label={`${out ? 'Hear' : 'Leave out'} the ${title.toLowerCase()}`}
              hint={out ? 'Heard again' : 'Left out for a moment: nothing is changed'}
              onClick={() => desk.leaveOut(name, !out)}
            />
            <IconButton
              icon={X}
              label={`Take the ${title.toLowerCase()} off`}
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
            ? 'What it takes away is being measured'
            : taken.mostDb === 0
              ? 'takes nothing away'
              : `takes ${formatDb(taken.mostDb)} dB at the most, ${Math.max(1, Math.round(100 * taken.share))} % of the time`}
        </p>
      )}
    </section>
  );
}
