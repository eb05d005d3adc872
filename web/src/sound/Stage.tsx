import type { StageName } from '@oiseau/audio/stages';
import type { ReductionFigures } from '@oiseau/album/measured';
import { Eye, EyeOff, Plus, X } from 'lucide-react';
import type { ReactNode } from 'react';
import { Button } from 'react-bootstrap';
import { formatDb } from '../ui/format.js';
import { IconButton } from '../ui/IconButton.js';
import type { SoundDesk } from './useSoundDesk.js';
import { t } from '../ui/messages.js';

/** As the object of a verb: `Bypass the limiter` */
const STAGE_NOUNS: Readonly<Record<StageName, string>> = {
  ride: t('the gain ride'),
  equaliser: t('the equaliser'),
  width: t('the stereo width'),
  compressor: t('the compressor'),
  limiter: t('the limiter'),
};

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
            {out && <span className="text-secondary">{t('left out')}</span>}
            <IconButton
              icon={out ? EyeOff : Eye}
              label={
                out
                  ? t('Stop bypassing {stage}', { stage: STAGE_NOUNS[name] })
                  : t('Bypass {stage}', { stage: STAGE_NOUNS[name] })
              }
              hint={
                out
                  ? t('Listen with this stage again')
                  : t('Listen without this stage; the album isn’t changed')
              }
              onClick={() => desk.leaveOut(name, !out)}
            />
            <IconButton
              icon={X}
              label={t('Remove {stage}', { stage: STAGE_NOUNS[name] })}
              hint={t('Take it off')}
              onClick={onRemove}
            />
          </>
        ) : (
          onAdd && (
            <Button
              size="sm"
              variant="link"
              aria-label={t('Add {stage}', { stage: STAGE_NOUNS[name] })}
              onClick={onAdd}
            >
              <Plus size={14} aria-hidden /> {t('Add')}
            </Button>
          )
        )}
      </header>
      {(isThere || !onAdd) && children}
      {isThere && taken !== undefined && (
        <p className="taken text-secondary">
          {taken === null
            ? t('Measuring the gain reduction')
            : taken.mostDb === 0
              ? t('no gain reduction')
              : t('gain reduction up to {level} dB, {percent} % of the time', {
                  level: formatDb(taken.mostDb),
                  percent: Math.max(1, Math.round(100 * taken.share)),
                })}
        </p>
      )}
    </section>
  );
}
