import { useQueryClient } from '@tanstack/react-query';
import {
  Copy,
  FileDown,
  FolderArchive,
  ListChecks,
  HardDrive,
  MoreVertical,
  Plus,
  Trash2,
  Upload,
  UsersRound,
} from 'lucide-react';
import { useDeferredValue, useState } from 'react';
import { Button, Dropdown, Form, Spinner } from 'react-bootstrap';
import { useDropzone } from 'react-dropzone';
import { Link, useNavigate } from 'react-router';
import { call } from '../api/client.js';
import { shelfKey, useShelf } from '../api/queries.js';
import { PeopleDialog } from '../access/PeopleDialog.js';
import { useMay, useVisitor } from '../access/VisitorContext.js';
import { VERSION } from '@oiseau/render';
import { addressOf, CONTRACT, mayDo, SHELF_ORDERS, type ShelfEntry, type ShelfSort } from '@oiseau/api';
import { count, formatCount, formatDiscTime, formatWhen } from '../ui/format.js';
import { useDownload } from '../api/DownloadLink.js';
import { useNotices } from '../ui/Notices.js';
import { ThemeButton } from '../ui/IconButton.js';
import { OpenImageButton } from '../images/OpenImageButton.js';
import { busyQueueOf } from '../masters/upload-queues.js';
import { useOpened } from '../ui/addressed.js';
import { useStored } from '../ui/useStored.js';
import { Cover } from './Cover.js';
import { DamagedEntry } from './DamagedEntry.js';
import { RenderQueue } from './RenderQueue.js';
import { ImportDialog } from './ImportDialog.js';

/** What tells a disc image among other files: the first file of a disc description, or a cue sheet. */
const IMAGE = /^ddpid$|\.cue$/i;
const ORDER_WORDS: Readonly<Record<ShelfSort, string>> = {
  edited: 'edited last',
  title: 'by title',
  performer: 'by performer',
};

/** From so many albums on their order matters. */
const SORTED_FROM = 5;
/** So many albums are seen at one look. */
const FEW = 12;

/** All albums. */
export function ShelfView() {
  const [sought, setSought] = useState('');
  const [order, setOrder] = useStored<ShelfSort>('oiseau-shelf-order', 'edited');
  const shelf = useShelf(useDeferredValue(sought), order);
  const albums = shelf.data?.pages.flatMap((page) => page.albums);
  const total = shelf.data?.pages[0]?.total ?? 0;
  const indexing = shelf.data?.pages.at(-1)?.indexing ?? 0;
  const navigate = useNavigate();
  const { tell, complain } = useNotices();
  const { shared, role } = useVisitor();
  const works = mayDo(role, 'work');
  const importing = useOpened('import');
  const [albumFile, setAlbumFile] = useState<readonly File[] | null>(null);
  const [image, setImage] = useState<readonly File[] | null>(null);
  const { getRootProps, isDragActive } = useDropzone({
    disabled: !works,
    ...{ noClick: true, noKeyboard: true },
    onDrop: (files) => {
      if (files.some(({ name }) => IMAGE.test(name))) setImage(files);
      else if (files.some(({ name }) => /\.json$/i.test(name))) {
        setAlbumFile(files);
        importing.open();
      } else
        tell('Masters go into an album: open one, or make a new one, and drop them there.', {
          ...{ label: 'New album', run: create },
        });
    },
  });
  const people = useOpened('people');
  const download = useDownload();
  const [chosen, setChosen] = useState<ReadonlySet<string> | null>(null);
  const create = (): void => {
    call(CONTRACT.createAlbum, { body: { title: '' } }).then(
      ({ id }) => navigate(`/albums/${id}/masters`),
      complain,
    );
  };
  return (
    <main {...getRootProps({ className: 'shelf', tabIndex: undefined, role: undefined })}>
      <header className="shelf-header">
        <h1>Shelf</h1>
        <span className="text-secondary">{shelf.data && count(total, 'album')}</span>
        {indexing > 0 && (
          <span role="status" className="text-secondary">
            Updating the list: {count(indexing, 'album')} left
          </span>
        )}
        <span className="flex-grow-1" />
        <ThemeButton />
        {mayDo(role, 'keys') && (
          <Link to="/keeping" className="btn btn-link shelf-people">
            <HardDrive size={16} aria-hidden /> What lies where
          </Link>
        )}
        {mayDo(role, 'keys') && (
          <Button variant="link" className="shelf-people" onClick={people.open}>
            <UsersRound size={16} aria-hidden /> {shared ? 'Who may come in' : 'Let somebody in'}
          </Button>
        )}
        {works && (
          <>
            <OpenImageButton dropped={image} />
            <Button variant="outline-primary" onClick={importing.open}>
              <Upload size={16} aria-hidden /> Open an album file
            </Button>
            <Button onClick={create}>
              <Plus size={16} aria-hidden /> New album
            </Button>
          </>
        )}
      </header>
      <RenderQueue />
      <div className="shelf-tools">
        {(sought !== '' || total > FEW) && (
          <Form.Control
            type="search"
            className="shelf-search"
            placeholder="Title or performer"
            aria-label="Title or performer"
            value={sought}
            onChange={({ target }) => setSought(target.value)}
          />
        )}
        {works && total > 1 && (
          <Button
            size="sm"
            variant={chosen ? 'primary' : 'outline-primary'}
            aria-pressed={chosen !== null}
            onClick={() => setChosen(chosen ? null : new Set())}
          >
            <ListChecks size={16} aria-hidden /> Choose several
          </Button>
        )}
        {chosen && (
          <Button
            size="sm"
            variant="outline-primary"
            disabled={chosen.size === 0}
            onClick={() =>
              download(addressOf(CONTRACT.bundles, { query: { albums: [...chosen].join(',') } }))
            }
          >
            <FolderArchive size={16} aria-hidden /> Save {count(chosen.size, 'album')} with their masters
            (ZIP)
          </Button>
        )}
        {total > SORTED_FROM && (
          <Form.Select
            size="sm"
            className="shelf-order"
            aria-label="Order of the Shelf"
            value={order}
            onChange={({ target }) =>
              setOrder(SHELF_ORDERS.find((each) => each === target.value) ?? 'edited')
            }
          >
            {SHELF_ORDERS.map((each) => (
              <option key={each} value={each}>
                {ORDER_WORDS[each]}
              </option>
            ))}
          </Form.Select>
        )}
      </div>
      {shelf.isPending && <Spinner aria-label="Loading the Shelf" />}
      {shelf.error && (
        <p role="alert" className="text-danger">
          {shelf.error.message}
        </p>
      )}
      {albums?.length === 0 && sought !== '' && (
        <p className="text-secondary">No album is called like “{sought}”.</p>
      )}
      {albums?.length === 0 && sought === '' && (
        <div className="empty">
          <p className="empty-lead">The Shelf is empty.</p>
          {works ? (
            <>
              <p>
                Start a new album and drop its finished masters on it, or open an album file that came with
                its masters.
              </p>
              <Button onClick={create}>New album</Button>
            </>
          ) : (
            <p>No album has been opened to you yet.</p>
          )}
        </div>
      )}
      <ul className="shelf-list">
        {albums?.map((entry) =>
          entry.damaged ? (
            <DamagedEntry key={entry.id} entry={entry} />
          ) : (
            <ShelfAlbum
              key={entry.id}
              entry={entry}
              chosen={chosen?.has(entry.id)}
              onChoose={() => setChosen(turned(chosen, entry.id))}
            />
          ),
        )}
      </ul>
      {shelf.hasNextPage && (
        <Button
          variant="outline-primary"
          disabled={shelf.isFetchingNextPage}
          onClick={() => void shelf.fetchNextPage()}
        >
          Show more albums ({formatCount(total - (albums?.length ?? 0))} more)
        </Button>
      )}
      <footer className="shelf-version text-secondary">Oiseau {VERSION}</footer>
      <PeopleDialog show={people.isOpen} onHide={people.close} />
      <ImportDialog show={importing.isOpen} dropped={albumFile} onHide={importing.close} />
      {isDragActive && <div className="drop-hint">Let go to open an album file or a disc image</div>}
    </main>
  );
}

function turned(chosen: ReadonlySet<string> | null, id: string): ReadonlySet<string> {
  const next = new Set(chosen);
  if (!next.delete(id)) next.add(id);
  return next;
}

function ShelfAlbum({
  entry,
  chosen,
  onChoose,
}: {
  entry: ShelfEntry;
  /** undefined: nothing is being chosen. */
  chosen: boolean | undefined;
  onChoose: () => void;
}) {
  const { id, title, performer, artwork, tracks, frames, updatedAt, rendering } = entry;
  const coming = busyQueueOf(id)?.uploads.length ?? 0;
  const name = title || 'Untitled album';
  return (
    <li className="shelf-album">
      {chosen !== undefined && (
        <Form.Check
          className="shelf-choice"
          aria-label={`Choose ${name}`}
          checked={chosen}
          onChange={onChoose}
        />
      )}
      <Link to={`/albums/${id}/sequence`} className="shelf-link">
        <Cover artwork={artwork} title={title} />
        <strong>{name}</strong>
        <span>{performer || 'No performer yet'}</span>
      </Link>
      <div className="shelf-facts text-secondary">
        <span>{tracks > 0 ? `${count(tracks, 'track')} · ${formatDiscTime(frames)}` : 'empty'}</span>
        <span>changed {formatWhen(updatedAt, new Date())}</span>
        {rendering > 0 && (
          <span className="shelf-work" role="status">
            {count(rendering, 'render')} under way
          </span>
        )}
        {coming > 0 && (
          <span className="shelf-work" role="status">
            {count(coming, 'file')} on the way in
          </span>
        )}
      </div>
      {useMay('work') && <ShelfMenu id={id} name={name} />}
    </li>
  );
}

/** What can be done with an album as a whole. */
function ShelfMenu({ id, name }: { id: string; name: string }) {
  const queries = useQueryClient();
  const { tell, complain } = useNotices();
  const refresh = (): Promise<void> => queries.invalidateQueries({ queryKey: shelfKey });
  const duplicate = async (): Promise<void> => {
    await call(CONTRACT.duplicateAlbum, { params: { id } });
    await refresh();
  };
  const restore = async (): Promise<void> => {
    await call(CONTRACT.restoreAlbum, { params: { id } });
    await refresh();
  };
  const remove = async (): Promise<void> => {
    await call(CONTRACT.deleteAlbum, { params: { id } });
    await refresh();
    tell(`“${name}” was deleted.`, { label: 'Undo', run: () => void restore().catch(complain) });
  };
  const deletes = useMay('delete');
  const download = useDownload();
  return (
    <Dropdown align="end" className="shelf-menu">
      <Dropdown.Toggle variant="link" className="icon-button" aria-label={`What to do with ${name}`}>
        <MoreVertical size={18} aria-hidden />
      </Dropdown.Toggle>
      <Dropdown.Menu>
        <Dropdown.Item as="button" onClick={() => duplicate().catch(complain)}>
          <Copy size={16} aria-hidden /> Duplicate
        </Dropdown.Item>
        <Dropdown.Item href={addressOf(CONTRACT.albumFile, { params: { id } })}>
          <FileDown size={16} aria-hidden /> Save the album file
        </Dropdown.Item>
        <Dropdown.Item as="button" onClick={() => download(addressOf(CONTRACT.bundle, { params: { id } }))}>
          <FolderArchive size={16} aria-hidden /> Save it with its masters (ZIP)
        </Dropdown.Item>
        {deletes && (
          <>
            <Dropdown.Divider />
            <Dropdown.Item as="button" onClick={() => remove().catch(complain)}>
              <Trash2 size={16} aria-hidden /> Delete
            </Dropdown.Item>
          </>
        )}
      </Dropdown.Menu>
    </Dropdown>
  );
}
