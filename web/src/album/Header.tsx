import { COMMON_LIMIT } from '@oiseau/core';
import { CircleHelp, Moon, Redo2, Sun, Undo2 } from 'lucide-react';
import { Button } from 'react-bootstrap';
import { useDeliveries } from '../api/queries.js';
import { formatDiscTime } from '../ui/format.js';
import { useTheme } from '../ui/theme.js';
import { useAlbum } from './AlbumContext.js';
import { isDirty } from './history.js';

/** Album, how full the disc is, revision, undo and redo, saved or not. */
export function Header({ onHelp }: { onHelp: () => void }) {
  const { id, album, layout, editing, undo, redo } = useAlbum();
  const [theme, setTheme] = useTheme();
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
        <Button
          variant="link"
          className="icon-button"
          disabled={!lastEdit}
          onClick={undo}
          aria-label="Undo"
          title={lastEdit ? `Undo: ${lastEdit} (Ctrl Z)` : 'Nothing to undo'}
        >
          <Undo2 size={18} aria-hidden />
        </Button>
        <Button
          variant="link"
          className="icon-button"
          disabled={!nextEdit}
          onClick={redo}
          aria-label="Redo"
          title={nextEdit ? `Redo: ${nextEdit} (Ctrl Shift Z)` : 'Nothing to redo'}
        >
          <Redo2 size={18} aria-hidden />
        </Button>
      </div>
      <SavedState />
      <div className="d-flex">
        <Button
          variant="link"
          className="icon-button"
          onClick={() => setTheme(theme === 'light' ? 'dark' : 'light')}
          aria-label={theme === 'light' ? 'Dim surface' : 'Light surface'}
          title={theme === 'light' ? 'Dim surface' : 'Light surface'}
        >
          {theme === 'light' ? <Moon size={18} aria-hidden /> : <Sun size={18} aria-hidden />}
        </Button>
        <Button variant="link" className="icon-button" onClick={onHelp} aria-label="Keys" title="Keys (?)">
          <CircleHelp size={18} aria-hidden />
        </Button>
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
