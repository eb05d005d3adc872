import type { MasterRecord } from '@oiseau/api';
import { compareNames } from '@oiseau/album/edits';
import { MASTER_EXTENSIONS } from '@oiseau/audio/pcm';
import { mastersPlayed, type Album } from '@oiseau/album/model';
import { FilePlus2, FolderOpen, Layers2, Scissors } from 'lucide-react';
import { useMemo, useRef, useState } from 'react';
import { Button } from 'react-bootstrap';
import { useDropzone } from 'react-dropzone';
import { Link } from 'react-router';
import { useAlbum } from '../album/AlbumContext.js';
import { useSilhouettes } from '../api/queries.js';
import { MasterTable } from './MasterTable.js';
import { useUploads } from './UploadContext.js';
import { AlternateOffers } from './AlternateOffers.js';
import { UnusedMasters } from './UnusedMasters.js';
import { UploadList } from './UploadList.js';
import { VersionOffers } from './VersionOffers.js';
import { versionsOf } from './versions.js';
import { WordsOfFiles } from './WordsOfFiles.js';
import { t } from '../ui/messages.js';

/** In the order of the album; what nothing plays comes after, by its name. */
function inAlbumOrder(album: Album, masters: readonly MasterRecord[]): MasterRecord[] {
  const places = new Map(mastersPlayed(album).map((sha256, i) => [sha256, i]));
  const placeOf = ({ sha256 }: MasterRecord): number => places.get(sha256) ?? places.size;
  return [...masters].sort((a, b) => placeOf(a) - placeOf(b) || compareNames(a.name, b.name));
}

/**
 * The masters in the order of the album: all of them, those without versions that were replaced and that no track plays
 * any more, and those of these that no track plays.
 */
function useMasterLists(album: Album, masters: readonly MasterRecord[]) {
  return useMemo(() => {
    const versions = versionsOf(masters);
    const played = new Set(mastersPlayed(album));
    const everything = inAlbumOrder(album, masters);
    const current = everything.filter(
      ({ sha256 }) => !versions.get(sha256)?.replacedBy || played.has(sha256),
    );
    const unused = current.filter(({ sha256, awaits }) => !played.has(sha256) && !awaits);
    return { everything, current, unused };
  }, [album, masters]);
}

/** The files brought in, with what was measured of each. */
export function MastersView() {
  const { id, album, masters } = useAlbum('id', 'album', 'masters');
  const { queue, uploads } = useUploads();
  const outlines = useSilhouettes(masters);
  const [older, setOlder] = useState(false);
  const folder = useRef<HTMLInputElement>(null);
  // What is dropped is taken by the frame, on whatever view.
  const { getInputProps, open } = useDropzone({
    onDrop: (files) => queue.add(files),
    ...{ noClick: true, noKeyboard: true, noDrag: true },
  });
  const empty = masters.length === 0 && uploads.length === 0;
  const { current, unused, everything } = useMasterLists(album, masters);
  const shown = older ? everything : current;
  const hidden = everything.length - current.length;
  return (
    <div className="masters">
      <input {...getInputProps({ 'aria-label': t('Master files') })} />
      <input
        ref={folder}
        type="file"
        className="d-none"
        aria-label={t('Folder of masters')}
        {...{ webkitdirectory: '' }}
        onChange={({ target }) => {
          queue.add([...(target.files ?? [])]);
          target.value = '';
        }}
      />
      <div className="view-head">
        <h2>{t('Masters')}</h2>
        <span className="text-secondary">
          {masters.length > 0 && t('{count, plural, one {# file} other {# files}}', { count: shown.length })}
        </span>
        {hidden > 0 && (
          <Button variant="link" size="sm" className="p-0" onClick={() => setOlder(!older)}>
            {older ? t('Hide') : t('Show')}{' '}
            {t('{hidden, plural, one {# older version} other {# older versions}}', { hidden })}
          </Button>
        )}
        <span className="flex-grow-1" />
        {album.songs.length > 0 && <TrackTools id={id} />}
        {!empty && (
          <>
            <Button variant="outline-primary" onClick={() => folder.current?.click()}>
              <FolderOpen size={16} aria-hidden /> {t('Add a folder')}
            </Button>
            <Button variant="outline-primary" onClick={open}>
              <FilePlus2 size={16} aria-hidden /> {t('Add masters')}
            </Button>
          </>
        )}
      </div>
      {empty && <NoMasters onFiles={open} onFolder={() => folder.current?.click()} />}
      <UploadList />
      <VersionOffers />
      <AlternateOffers />
      <UnusedMasters unused={unused} />
      {masters.length > 0 && <MasterTable masters={shown} outlines={outlines} />}
    </div>
  );
}

/** What is done to tracks from their masters. */
function TrackTools({ id }: { readonly id: string }) {
  return (
    <>
      <WordsOfFiles />
      <Link to={`/albums/${id}/masters/alternates`} className="btn btn-outline-primary">
        <Layers2 size={16} aria-hidden /> {t('Alternate versions')}
      </Link>
      <Link to={`/albums/${id}/masters/trim`} className="btn btn-outline-primary">
        <Scissors size={16} aria-hidden /> {t('Trim heads and tails')}
      </Link>
    </>
  );
}

function NoMasters({ onFiles, onFolder }: { readonly onFiles: () => void; readonly onFolder: () => void }) {
  return (
    <div className="empty drop-target">
      <p className="empty-lead">{t('Drop finished masters here')}</p>
      <p>
        {t(
          'Drop many files at once, or a folder. Each file becomes a track with its file name as title and a gap of two seconds. Lossy files are accepted with a warning. Formats: {formats}.',
          { formats: MASTER_EXTENSIONS.join(', ') },
        )}
      </p>
      <Button onClick={onFiles}>{t('Choose files')}</Button>{' '}
      <Button variant="outline-primary" onClick={onFolder}>
        {t('Choose a folder')}
      </Button>
    </div>
  );
}
