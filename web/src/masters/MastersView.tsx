import { MASTER_EXTENSIONS, mastersPlayed } from '@oiseau/core';
import { FilePlus2, FolderOpen, Layers2, Scissors } from 'lucide-react';
import { useMemo, useRef, useState } from 'react';
import { Button } from 'react-bootstrap';
import { useDropzone } from 'react-dropzone';
import { Link } from 'react-router';
import { useAlbum } from '../album/AlbumContext.js';
import { useSilhouettes } from '../api/queries.js';
import { count } from '../ui/format.js';
import { MasterTable } from './MasterTable.js';
import { useUploads } from './UploadContext.js';
import { AlternateOffers } from './AlternateOffers.js';
import { UploadList } from './UploadList.js';
import { versionsOf } from './versions.js';

/** The files brought in, with what was measured of each. */
export function MastersView() {
  const { id, album, masters } = useAlbum('id', 'album', 'masters');
  const { queue, uploads } = useUploads();
  const outlines = useSilhouettes(masters);
  const [older, setOlder] = useState(false);
  const folder = useRef<HTMLInputElement>(null);
  const { getRootProps, getInputProps, isDragActive, open } = useDropzone({
    onDrop: (files) => queue.add(files),
    noClick: true,
    noKeyboard: true,
  });
  const empty = masters.length === 0 && uploads.length === 0;
  // Versions that were replaced and that no track plays any more are out of the way until somebody asks for them.
  const current = useMemo(() => {
    const versions = versionsOf(masters);
    const played = new Set(mastersPlayed(album));
    return masters.filter(({ sha256 }) => !versions.get(sha256)?.replacedBy || played.has(sha256));
  }, [masters, album]);
  const hidden = masters.length - current.length;
  const shown = older ? masters : current;
  return (
    <div {...getRootProps({ className: isDragActive ? 'masters dropping' : 'masters' })}>
      <input {...getInputProps({ 'aria-label': 'Master files' })} />
      <input
        ref={folder}
        type="file"
        className="d-none"
        aria-label="Folder of masters"
        {...{ webkitdirectory: '' }}
        onChange={({ target }) => {
          queue.add([...(target.files ?? [])]);
          target.value = '';
        }}
      />
      <div className="view-head">
        <h2>Masters</h2>
        <span className="text-secondary">{masters.length > 0 && count(shown.length, 'file')}</span>
        {hidden > 0 && (
          <Button variant="link" size="sm" className="p-0" onClick={() => setOlder(!older)}>
            {older ? 'hide' : 'show'} {count(hidden, 'older version')}
          </Button>
        )}
        <span className="flex-grow-1" />
        {album.songs.length > 0 && (
          <>
            <Link to={`/albums/${id}/masters/alternates`} className="btn btn-outline-primary">
              <Layers2 size={16} aria-hidden /> Other recordings
            </Link>
            <Link to={`/albums/${id}/masters/trim`} className="btn btn-outline-primary">
              <Scissors size={16} aria-hidden /> Heads and tails
            </Link>
          </>
        )}
        {!empty && (
          <>
            <Button variant="outline-primary" onClick={() => folder.current?.click()}>
              <FolderOpen size={16} aria-hidden /> A folder
            </Button>
            <Button variant="outline-primary" onClick={open}>
              <FilePlus2 size={16} aria-hidden /> Bring in masters
            </Button>
          </>
        )}
      </div>
      {empty && (
        <div className="empty drop-target">
          <p className="empty-lead">Drop the finished masters here.</p>
          <p>
            Many at once, or their folder, named in the order of the album: each becomes a track, titled from
            its file name, two seconds apart. Lossy files are taken in as well, with a warning (
            {MASTER_EXTENSIONS.join(', ')}).
          </p>
          <Button onClick={open}>Choose files</Button>{' '}
          <Button variant="outline-primary" onClick={() => folder.current?.click()}>
            Choose a folder
          </Button>
        </div>
      )}
      <UploadList />
      <AlternateOffers />
      {masters.length > 0 && <MasterTable masters={shown} outlines={outlines} />}
      {isDragActive && <div className="drop-hint">Let go to bring them in</div>}
    </div>
  );
}
