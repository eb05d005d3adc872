import { COMMON_LIMIT } from '@oiseau/core';
import { CircleHelp, Redo2, Undo2 } from 'lucide-react';
import { useDeliveries } from '../api/queries.js';
import { formatDiscTime } from '../ui/format.js';
import { IconButton, ThemeButton } from '../ui/IconButton.js';
import { useAlbum } from './AlbumContext.js';
import { HistoryMenu } from './HistoryMenu.js';
import { isDirty } from './history.js';

/** Album, how full the disc is, revision, undo and redo, saved or not. */
export function Header({ onHelp }: { onHelp: () => void }) {
  const { id, album, layout, editing, undo, redo } = useAlbum();
  const revision = useDeliveries(id).data?.[0]?.revision;
  const lastEdit = editing.past.at(-1)?.words;
  const nextEdit = editing.future[0]?.words;
  const leadOut = album.tracks.length > 0 ? layout.leadOut : 0;
  return (
    <header className="album-header">
      <div className="album-name">
        <h1>{album.title || 'Untitled album'}</h1>
        <span className="text-secondary">
          {album.performer}
          {album.discTotal > 1 && ` · disc ${album.discNumber} of ${album.discTotal}`}
        </span>
      </div>
      <DiscGauge leadOut={leadOut} />
      <span className="text-secondary text-nowrap" title="The newest numbered revision that was rendered">
        {revision ? `revision ${revision}` : 'no revision yet'}
      </span>
      <div className="d-flex">
        <IconButton
          icon={Undo2}
          label="Undo"
          hint={lastEdit ? `Undo: ${lastEdit} (Ctrl Z)` : 'Nothing to undo'}
          disabled={!lastEdit}
          onClick={() => undo()}
        />
        <IconButton
          icon={Redo2}
          label="Redo"
          hint={nextEdit ? `Redo: ${nextEdit} (Ctrl Shift Z)` : 'Nothing to redo'}
          disabled={!nextEdit}
          onClick={() => redo()}
        />
        <HistoryMenu />
      </div>
      <SavedState />
      <div className="d-flex">
        <ThemeButton />
        <IconButton icon={CircleHelp} label="Keys" hint="Keys (?)" onClick={onHelp} />
      </div>
    </header>
  );
}

function DiscGauge({ leadOut }: { leadOut: number }) {
  const over = leadOut > COMMON_LIMIT;
  const label = `${formatDiscTime(leadOut)} of ${formatDiscTime(COMMON_LIMIT)}`;
  return (
    <div
      className={over ? 'disc-gauge over' : 'disc-gauge'}
      role="meter"
      aria-label="How full the disc is"
      aria-valuemin={0}
      aria-valuemax={COMMON_LIMIT}
      aria-valuenow={Math.min(leadOut, COMMON_LIMIT)}
      aria-valuetext={label}
    >
      <span className="figure">{formatDiscTime(leadOut)}</span>
      <span className="gauge-line">
        <span style={{ width: `${Math.min(100, (100 * leadOut) / COMMON_LIMIT)}%` }} />
      </span>
      <span className="text-secondary">
        {over ? `over ${formatDiscTime(COMMON_LIMIT)}` : formatDiscTime(COMMON_LIMIT)}
      </span>
    </div>
  );
}

function SavedState() {
  const { editing } = useAlbum();
  const words =
    editing.saving === 'conflict'
      ? 'not saved'
      : editing.saving === 'failed'
        ? 'not saved, trying again'
        : isDirty(editing) || editing.saving === 'under way'
          ? 'saving …'
          : 'saved';
  return (
    <span
      className={
        editing.saving === 'failed' || editing.saving === 'conflict'
          ? 'saved-state text-danger'
          : 'saved-state text-secondary'
      }
      role="status"
      title={editing.message ?? undefined}
    >
      {words}
    </span>
  );
}
