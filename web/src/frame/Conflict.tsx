import { compareAlbums } from '@oiseau/album/compare';
import { MOST_TEXT, type Album } from '@oiseau/album/model';
import { CONTRACT } from '@oiseau/api';
import { useEffect, useEffectEvent, useMemo } from 'react';
import { Alert, Button } from 'react-bootstrap';
import { useNavigate } from 'react-router';
import { useVisitor } from '../access/VisitorContext.js';
import { useAlbum, useOpenedAlbum } from '../album/AlbumContext.js';
import { call } from '../api/client.js';
import { useNotices } from '../ui/Notices.js';
import { together, type NewerAlbum } from '../workspace/merging.js';
import { say, t } from '../ui/messages.js';

/** Differences that are written out. */
const MOST_SHOWN = 4;
/** What others do within so long is told together, ms. */
const GATHERED_MS = 1500;

/** Makes a state of an album an album of its own. @returns its id */
export async function keepAsCopy(id: string, album: Album): Promise<string> {
  const copy = await call(CONTRACT.duplicateAlbum, { params: { id } });
  const mark = ` ${t('(my edits)')}`;
  const title = album.title.slice(0, MOST_TEXT - mark.length) + mark;
  await call(CONTRACT.saveAlbum, { params: copy, body: { version: 1, album: { ...album, title } } });
  return copy.id;
}

/** Who has made a change, as a sentence begins with it. */
function useNameOf(): (theirs: Pick<NewerAlbum, 'who'>) => string {
  const { name } = useVisitor();
  return ({ who }) => (who === null || who === '' || who === name ? t('Another window') : who);
}

/** Another user changed the same fields: both versions are shown, nothing is lost, and the user chooses. */
export function Conflict() {
  const { theirs } = useAlbum('editing').editing;
  return theirs && <Choice theirs={theirs} />;
}

function Choice({ theirs }: { readonly theirs: NewerAlbum }) {
  const { id, editing, facts, resolve, takeOver } = useAlbum(
    ...(['id', 'editing', 'facts', 'resolve', 'takeOver'] as const),
  );
  const { complain } = useNotices();
  const navigate = useNavigate();
  const nameOf = useNameOf();
  const { savedAlbum, album } = editing;
  const differences = useMemo(() => {
    const merged = together(savedAlbum, album, theirs.album);
    return compareAlbums(merged.theirs, merged.mine, facts);
  }, [savedAlbum, album, theirs, facts]);
  const keepCopy = async (): Promise<void> => {
    const copy = await keepAsCopy(id, album);
    await takeOver();
    await navigate(`/albums/${copy}`);
  };
  return (
    <Alert variant="warning" className="conflict" role="alert">
      <div>
        {t('{theirs} changed the same fields. Your last edits aren’t saved yet.', { theirs: nameOf(theirs) })}
        {differences.length > 0 && ` ${t('Their version → yours:')}`}
        <ul>
          {differences
            .slice(0, MOST_SHOWN)
            .map(say)
            .map((words) => (
              <li key={words}>{words}</li>
            ))}
          {differences.length > MOST_SHOWN && (
            <li>{t('and {count} more', { count: differences.length - MOST_SHOWN })}</li>
          )}
        </ul>
      </div>
      <Button size="sm" variant="outline-primary" onClick={() => resolve('mine')}>
        {t('Keep mine')}
      </Button>
      <Button size="sm" variant="outline-primary" onClick={() => resolve('theirs')}>
        {t('Use theirs')}
      </Button>
      <Button size="sm" variant="outline-primary" onClick={() => keepCopy().catch(complain)}>
        {t('Keep mine as a copy')}
      </Button>
    </Alert>
  );
}

/** Describes what another user has changed in the open album. */
export function useMergeNotice(): void {
  const { store } = useOpenedAlbum();
  const { tell } = useNotices();
  const nameOf = useNameOf();
  const told = useEffectEvent((theirs: NewerAlbum, [first, ...others]: readonly string[]) => {
    if (first === undefined) return;
    const values = { theirs: nameOf(theirs), first, count: others.length };
    tell(
      others.length > 0
        ? t('{theirs} changed this album: {first} and {count} more.', values)
        : t('{theirs} changed this album: {first}.', values),
    );
  });
  useEffect(() => {
    let gathered: string[] = [];
    let timer: ReturnType<typeof setTimeout> | undefined;
    const end = store.onMerged((theirs, before) => {
      gathered.push(...compareAlbums(before, theirs.album, store.state().facts).map(say));
      clearTimeout(timer);
      timer = setTimeout(() => {
        told(theirs, [...new Set(gathered)]);
        gathered = [];
      }, GATHERED_MS);
    });
    return () => {
      clearTimeout(timer);
      end();
    };
  }, [store]);
}
