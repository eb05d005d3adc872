import { ceilToFrame, floorToFrame } from '@oiseau/audio/time';
import type { Part } from '@oiseau/album/layout';
import { CircleHelp, Redo2, Undo2 } from 'lucide-react';
import { useDeliveries } from '../api/queries.js';
import { formatDiscTime } from '../ui/format.js';
import { IconButton, ThemeButton } from '../ui/IconButton.js';
import { useAlbum } from '../album/AlbumContext.js';
import { PartChooser } from './PartChooser.js';
import { EditionMenu } from '../editions/EditionMenu.js';
import { HistoryMenu } from './HistoryMenu.js';
import { isDirty } from '../workspace/history.js';
import { LanguageMenu } from '../ui/LanguageMenu.js';
import { t } from '../ui/messages.js';

/** Album, how full the disc is, revision, undo and redo, saved or not. */
export function Header({ onHelp }: { onHelp: () => void }) {
  const { id, album, part, editing, undo, redo } = useAlbum('id', 'album', 'part', 'editing', 'undo', 'redo');
  const deliveries = useDeliveries(id).data;
  const revision = deliveries?.[0]?.revision;
  const lastEdit = editing.past.at(-1)?.words;
  const nextEdit = editing.future[0]?.words;
  const end = part.disc?.leadOut ?? ceilToFrame(part.placement.end);
  const length = part.songs.length > 0 ? end : 0;
  return (
    <header className="album-header">
      <div className="album-name">
        <h1>{album.title || t('Untitled album')}</h1>
        <span className="text-secondary">
          {album.performer}
          {part.of === 1 &&
            album.discTotal > 1 &&
            ` · ${t('disc {number} of {total}', { number: album.discNumber, total: album.discTotal })}`}
        </span>
      </div>
      <EditionName />
      <PartChooser />
      <Gauge length={length} limit={floorToFrame(part.limit)} kind={part.kind} />
      <span className="text-secondary text-nowrap" title={t('Newest rendered revision')}>
        {revision ? t('revision {revision}', { revision }) : deliveries && t('no revision yet')}
      </span>
      <div className="d-flex">
        <IconButton
          icon={Undo2}
          label={t('Undo')}
          hint={lastEdit ? t('Undo: {lastEdit} (Ctrl Z)', { lastEdit }) : t('Nothing to undo')}
          disabled={!lastEdit}
          onClick={() => undo()}
        />
        <IconButton
          icon={Redo2}
          label={t('Redo')}
          hint={nextEdit ? t('Redo: {nextEdit} (Ctrl Shift Z)', { nextEdit }) : t('Nothing to redo')}
          disabled={!nextEdit}
          onClick={() => redo()}
        />
        <HistoryMenu />
      </div>
      <SavedState />
      <div className="d-flex">
        <EditionMenu />
        <LanguageMenu />
        <ThemeButton />
        <IconButton icon={CircleHelp} label={t('Keys')} hint={t('Keys (?)')} onClick={onHelp} />
      </div>
    </header>
  );
}

/** Which edition is shown; nothing where there is but one. */
function EditionName() {
  const { edition, editing } = useAlbum('edition', 'editing');
  if (editing.album.editions.length < 2) return null;
  return <span className="edition-name">{edition}</span>;
}

function Gauge({ length, limit, kind }: { length: number; limit: number; kind: Part['kind'] }) {
  const over = length > limit;
  const label = t('{length} of {limit}', { length: formatDiscTime(length), limit: formatDiscTime(limit) });
  return (
    <div
      className={over ? 'disc-gauge over' : 'disc-gauge'}
      role="meter"
      aria-label={t('Time used on the {kind}', { kind })}
      aria-valuemin={0}
      aria-valuemax={limit}
      aria-valuenow={Math.min(length, limit)}
      aria-valuetext={label}
    >
      <span className="figure">{formatDiscTime(length)}</span>
      <span className="gauge-line">
        <span style={{ width: `${Math.min(100, (100 * length) / limit)}%` }} />
      </span>
      <span className="text-secondary">
        {over ? t('over {limit}', { limit: formatDiscTime(limit) }) : formatDiscTime(limit)}
      </span>
    </div>
  );
}

function SavedState() {
  const { editing } = useAlbum('editing');
  const words =
    editing.saving === 'conflict'
      ? t('not saved')
      : editing.saving === 'failed'
        ? t('not saved, retrying')
        : isDirty(editing) || editing.saving === 'saving'
          ? t('saving …')
          : t('saved');
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
