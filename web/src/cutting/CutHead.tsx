import type { MasterRecord } from '@oiseau/api';
import { ArrowLeft, Redo2, Undo2 } from 'lucide-react';
import { Button } from 'react-bootstrap';
import { Link } from 'react-router';
import { IconButton } from '../ui/IconButton.js';
import type { CuttingInHand } from './useCutting.js';
import { rich, t } from '../ui/messages.js';

interface CutHeadProps {
  /** Id of the album. */
  readonly album: string;
  readonly master: MasterRecord;
  readonly cutting: CuttingInHand;
  /** Pieces that would become tracks. */
  readonly kept: number;
  readonly onMake: () => void;
}

/** The way back, undo, and the button that makes tracks of the pieces. */
export function CutHead({ album, master, cutting, kept, onMake }: CutHeadProps) {
  return (
    <div className="view-head">
      <Link
        to={`/albums/${album}/masters/${master.sha256}`}
        className="btn btn-link icon-button"
        aria-label={t('Back to the master')}
      >
        <ArrowLeft size={18} aria-hidden />
      </Link>
      <div className="master-name">
        <h2>{t('Cut into tracks')}</h2>
        <span className="text-secondary">
          {master.name} ·{' '}
          {rich(
            '<key>C</key> cuts at the playback position; drag a cut, or move it by a frame with <key>Alt ←</key> <key>Alt →</key>',
            { key: <kbd /> },
          )}
        </span>
      </div>
      <div className="d-flex">
        <IconButton icon={Undo2} label={t('Undo cut')} disabled={!cutting.canUndo} onClick={cutting.undo} />
        <IconButton icon={Redo2} label={t('Redo cut')} disabled={!cutting.canRedo} onClick={cutting.redo} />
      </div>
      <Button disabled={kept === 0} onClick={onMake}>
        {t('Create {kept, plural, one {# track} other {# tracks}}', { kept })}
      </Button>
    </div>
  );
}
