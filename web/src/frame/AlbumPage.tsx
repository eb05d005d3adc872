import type { AlbumRecord, MasterRecord } from '@oiseau/api';
import { Suspense, useMemo } from 'react';
import { Alert, Button } from 'react-bootstrap';
import { Link, Outlet, useNavigate, useParams } from 'react-router';
import { useMasters, useServerAlbum } from '../api/queries.js';
import { FindingsProvider } from '../checks/FindingsContext.js';
import { ArrivalsProvider } from '../masters/ArrivalsContext.js';
import { UploadProvider } from '../masters/UploadContext.js';
import { PlayerProvider, usePlayer } from '../album/PlayerContext.js';
import { Transport } from '../transport/Transport.js';
import { Loading } from '../ui/Loading.js';
import { formatWhen } from '../ui/format.js';
import { useNotices } from '../ui/Notices.js';
import { ShortcutHelp } from '../ui/ShortcutHelp.js';
import { useOpened } from '../ui/addressed.js';
import { useShortcuts } from '../ui/useShortcuts.js';
import { AlbumContext, useAlbum, useAlbumStore, useOpenedAlbum } from '../album/AlbumContext.js';
import { SoundsProvider } from '../album/SoundsContext.js';
import type { LeftBehind } from '../workspace/unsaved-edits.js';
import { useLeftBehind } from '../album/useLeftBehind.js';
import { ViewBoundary } from './BrokenView.js';
import { Conflict, keepAsCopy, useMergeNotice } from './Conflict.js';
import { DropAnywhere } from './DropAnywhere.js';
import { Header } from './Header.js';
import { Rail } from './Rail.js';
import { STEPS } from './steps.js';
import { useRenderEnd } from './useRenderEnd.js';
import { useTitle } from './useTitle.js';
import { t } from '../ui/messages.js';

/** Loads an album and its masters, then shows one of its steps. */
export function AlbumPage() {
  const { id = '' } = useParams();
  const record = useServerAlbum(id);
  const masters = useMasters(id);
  const failed = record.error ?? masters.error;
  if (record.data && masters.data) return <OpenAlbum key={id} record={record.data} masters={masters.data} />;
  return (
    <main className="lone-message">
      {failed ? (
        <>
          <p role="alert">{failed.message}</p>
          <Link to="/">{t('Back to the Shelf')}</Link>
        </>
      ) : (
        <Loading>{t('Loading the album')}</Loading>
      )}
    </main>
  );
}

function OpenAlbum({ record, masters }: { record: AlbumRecord; masters: readonly MasterRecord[] }) {
  const { id } = record;
  const store = useAlbumStore(record, masters);
  const opened = useMemo(() => ({ id, store }), [id, store]);
  return (
    <AlbumContext value={opened}>
      <UploadProvider>
        <ArrivalsProvider>
          <PlayerProvider>
            <SoundsProvider>
              <FindingsProvider>
                <Frame record={record} />
              </FindingsProvider>
            </SoundsProvider>
          </PlayerProvider>
        </ArrivalsProvider>
      </UploadProvider>
    </AlbumContext>
  );
}

function Frame({ record }: { record: AlbumRecord }) {
  const { id, undo, redo } = useAlbum('id', 'undo', 'redo');
  const player = usePlayer();
  const navigate = useNavigate();
  const keys = useOpened('keys');
  useTitle();
  useRenderEnd();
  useMergeNotice();
  useShortcuts({
    Space: () => player.toggle(),
    'Ctrl+Z': () => undo(),
    'Ctrl+Y': () => redo(),
    'Ctrl+Shift+Z': () => redo(),
    '?': keys.open,
    ...Object.fromEntries(
      STEPS.map(({ path }, i) => [String(i + 1), () => void navigate(`/albums/${id}/${path}`)]),
    ),
  });
  return (
    <DropAnywhere>
      <Rail />
      <div className="album-body">
        <Header onHelp={keys.open} />
        <Conflict />
        <EditsLeftBehind record={record} />
        <main className="album-view">
          <ViewBoundary>
            <Suspense>
              <Outlet />
            </Suspense>
          </ViewBoundary>
        </main>
      </div>
      <Transport />
      <ShortcutHelp show={keys.isOpen} onHide={keys.close} />
    </DropAnywhere>
  );
}

/** Edits that an earlier window could not save, of an album that has gone on without them. */
function EditsLeftBehind({ record }: { record: AlbumRecord }) {
  const { id, store } = useOpenedAlbum();
  const { offered, forget } = useLeftBehind(record, store);
  const { tell, complain } = useNotices();
  const navigate = useNavigate();
  const keep = async (entry: LeftBehind): Promise<void> => {
    try {
      const copy = await keepAsCopy(id, entry.album);
      forget(entry);
      await navigate(`/albums/${copy}`);
    } catch (error) {
      complain(error);
    }
  };
  return offered.map((entry) => (
    <Alert key={entry.at.getTime()} variant="warning" className="conflict" role="alert">
      <span>
        {t('Your edits ({when}) weren’t saved, and the album has changed since.', {
          when: formatWhen(entry.at.toISOString(), new Date()),
        })}
      </span>
      <Button size="sm" variant="outline-primary" onClick={() => void keep(entry)}>
        {t('Save as a copy')}
      </Button>
      <Button
        size="sm"
        variant="outline-primary"
        onClick={() => {
          forget(entry);
          tell(t('Edits discarded.'), { label: t('Save as a copy'), run: () => void keep(entry) });
        }}
      >
        {t('Discard edits')}
      </Button>
    </Alert>
  ));
}
