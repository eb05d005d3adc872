import { VERSION } from '@oiseau/render';
import { addressOf, CONTRACT, mayDo, SHELF_ORDERS, type ShelfSort } from '@oiseau/api';
import { FolderArchive, HardDrive, ListChecks, Plus, Upload, UsersRound } from 'lucide-react';
import { useDeferredValue, useState, type ReactNode } from 'react';
import { Button, Form } from 'react-bootstrap';
import { useDropzone } from 'react-dropzone';
import { Link, useNavigate } from 'react-router';
import { PeopleDialog } from '../access/PeopleDialog.js';
import { useVisitor } from '../access/VisitorContext.js';
import { call } from '../api/client.js';
import { useDownload } from '../api/DownloadLink.js';
import { useShelf } from '../api/queries.js';
import { OpenImageButton } from '../images/OpenImageButton.js';
import { Loading } from '../ui/Loading.js';
import { formatCount } from '../ui/format.js';
import { ThemeButton } from '../ui/IconButton.js';
import { useNotices } from '../ui/Notices.js';
import { useOpened } from '../ui/addressed.js';
import { useStored } from '../ui/useStored.js';
import { DamagedEntry } from './DamagedEntry.js';
import { ImportDialog } from './ImportDialog.js';
import { RenderQueue } from './RenderQueue.js';
import { ShelfAlbum } from './ShelfAlbum.js';
import { LanguageMenu } from '../ui/LanguageMenu.js';
import { t } from '../ui/messages.js';

/** What tells a disc image among other files: the first file of a disc description, or a cue sheet. */
const IMAGE = /^ddpid$|\.cue$/i;
const ORDER_WORDS: Readonly<Record<ShelfSort, string>> = {
  edited: t('Last edited'),
  title: t('Title'),
  performer: t('Performer'),
};

/** From so many albums on their order matters. */
const SORTED_FROM = 5;
/** So many albums are seen at one look. */
const FEW = 12;

/** Makes an album and opens it. */
function useCreate(): () => void {
  const navigate = useNavigate();
  const { complain } = useNotices();
  return () =>
    void call(CONTRACT.createAlbum, { body: { title: '' } }).then(
      ({ id }) => navigate(`/albums/${id}/masters`),
      complain,
    );
}

/** Which albums are shown, in which order, and which of them are chosen. */
function useShelfChoice() {
  const [sought, setSought] = useState('');
  const [order, setOrder] = useStored<ShelfSort>('oiseau-shelf-order', 'edited');
  const [chosen, setChosen] = useState<ReadonlySet<string> | null>(null);
  const shelf = useShelf(useDeferredValue(sought), order);
  return {
    ...{ shelf, sought, setSought, order, setOrder, chosen, setChosen },
    albums: shelf.data?.pages.flatMap((page) => page.albums),
    total: shelf.data?.pages[0]?.total ?? 0,
    indexing: shelf.data?.pages.at(-1)?.indexing ?? 0,
  };
}
type ShelfChoice = ReturnType<typeof useShelfChoice>;

/** All albums. */
export function ShelfView() {
  const choice = useShelfChoice();
  const { shelf, sought, albums, total, chosen, setChosen } = choice;
  const works = mayDo(useVisitor().role, 'work');
  const importing = useOpened('import');
  const people = useOpened('people');
  const create = useCreate();
  const { tell } = useNotices();
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
        tell(t('Masters belong to an album. Open or create one and drop them there.'), {
          ...{ label: t('New album'), run: create },
        });
    },
  });
  return (
    <main {...getRootProps({ className: 'shelf', tabIndex: undefined, role: undefined })}>
      <ShelfHeader choice={choice} onPeople={people.open}>
        {works && (
          <>
            <OpenImageButton dropped={image} />
            <Button variant="outline-primary" onClick={importing.open}>
              <Upload size={16} aria-hidden /> {t('Open an album file')}
            </Button>
            <Button onClick={create}>
              <Plus size={16} aria-hidden /> {t('New album')}
            </Button>
          </>
        )}
      </ShelfHeader>
      <RenderQueue />
      <ShelfTools choice={choice} works={works} />
      {shelf.isPending && <Loading>{t('Loading the Shelf')}</Loading>}
      {shelf.error && (
        <p role="alert" className="text-danger">
          {shelf.error.message}
        </p>
      )}
      {albums?.length === 0 && <NoAlbums sought={sought} onCreate={works ? create : null} />}
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
          {t('Show more albums ({total} more)', { total: formatCount(total - (albums?.length ?? 0)) })}
        </Button>
      )}
      <footer className="shelf-version text-secondary">Oiseau {VERSION}</footer>
      <PeopleDialog show={people.isOpen} onHide={people.close} />
      <ImportDialog show={importing.isOpen} dropped={albumFile} onHide={importing.close} />
      {isDragActive && <div className="drop-hint">{t('Drop to open an album file or disc image')}</div>}
    </main>
  );
}

function turned(chosen: ReadonlySet<string> | null, id: string): ReadonlySet<string> {
  const next = new Set(chosen);
  if (!next.delete(id)) next.add(id);
  return next;
}

/** @param children the ways to an album */
function ShelfHeader({
  choice: { shelf, total, indexing },
  onPeople,
  children,
}: {
  choice: ShelfChoice;
  onPeople: () => void;
  children: ReactNode;
}) {
  const { shared, role } = useVisitor();
  return (
    <header className="shelf-header">
      <h1>{t('Shelf')}</h1>
      <span className="text-secondary">
        {shelf.data && t('{total, plural, one {# album} other {# albums}}', { total })}
      </span>
      {indexing > 0 && (
        <span role="status" className="text-secondary">
          {t('Updating the list: {indexing, plural, one {# album} other {# albums}} left', { indexing })}
        </span>
      )}
      <span className="flex-grow-1" />
      <div className="d-flex">
        <LanguageMenu />
        <ThemeButton />
      </div>
      {mayDo(role, 'keys') && (
        <>
          <Link to="/keeping" className="btn btn-link shelf-people">
            <HardDrive size={16} aria-hidden /> {t('Storage')}
          </Link>
          <Button variant="link" className="shelf-people" onClick={onPeople}>
            <UsersRound size={16} aria-hidden /> {shared ? t('Access') : t('Give access')}
          </Button>
        </>
      )}
      {children}
    </header>
  );
}

/** Looking for albums, choosing several, putting them in order: each where there are enough for it. */
function ShelfTools({ choice, works }: { choice: ShelfChoice; works: boolean }) {
  const { sought, setSought, total, chosen, setChosen, order, setOrder } = choice;
  const download = useDownload();
  return (
    <div className="shelf-tools">
      {(sought !== '' || total > FEW) && (
        <Form.Control
          type="search"
          className="shelf-search"
          placeholder={t('Title or performer')}
          aria-label={t('Title or performer')}
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
          <ListChecks size={16} aria-hidden /> {t('Select')}
        </Button>
      )}
      {chosen && (
        <Button
          size="sm"
          variant="outline-primary"
          disabled={chosen.size === 0}
          onClick={() => download(addressOf(CONTRACT.bundles, { query: { albums: [...chosen].join(',') } }))}
        >
          <FolderArchive size={16} aria-hidden />{' '}
          {t('Save {count, plural, one {# album} other {# albums}} with their masters (ZIP)', {
            count: chosen.size,
          })}
        </Button>
      )}
      {total > SORTED_FROM && (
        <Form.Select
          size="sm"
          className="shelf-order"
          aria-label={t('Sort by')}
          value={order}
          onChange={({ target }) => setOrder(SHELF_ORDERS.find((each) => each === target.value) ?? 'edited')}
        >
          {SHELF_ORDERS.map((each) => (
            <option key={each} value={each}>
              {ORDER_WORDS[each]}
            </option>
          ))}
        </Form.Select>
      )}
    </div>
  );
}

/** @param onCreate null: the visitor may not create albums */
function NoAlbums({ sought, onCreate }: { sought: string; onCreate: (() => void) | null }) {
  if (sought !== '') return <p className="text-secondary">{t('No album matches “{sought}”.', { sought })}</p>;
  return (
    <div className="empty">
      <p className="empty-lead">{t('The Shelf is empty.')}</p>
      {onCreate ? (
        <>
          <p>
            {t(
              'Create an album and drop finished masters on it, or open an album file together with its masters.',
            )}
          </p>
          <Button onClick={onCreate}>{t('New album')}</Button>
        </>
      ) : (
        <p>{t('No album has been shared with you yet.')}</p>
      )}
    </div>
  );
}
