import { addressOf, CONTRACT, type ShelfEntry } from '@oiseau/api';
import { useQueryClient } from '@tanstack/react-query';
import { Copy, FileDown, FolderArchive, MoreVertical, Trash2 } from 'lucide-react';
import { Dropdown, Form } from 'react-bootstrap';
import { Link } from 'react-router';
import { useMay } from '../access/VisitorContext.js';
import { call } from '../api/client.js';
import { useDownload } from '../api/DownloadLink.js';
import { shelfKey } from '../api/queries.js';
import { busyQueueOf } from '../masters/upload-queues.js';
import { formatDiscTime, formatWhen } from '../ui/format.js';
import { useNotices } from '../ui/Notices.js';
import { Cover } from './Cover.js';
import { IconMenu } from '../ui/IconMenu.js';
import { t } from '../ui/messages.js';

/** One album on the Shelf. */
export function ShelfAlbum({
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
  const name = title || t('Untitled album');
  return (
    <li className="shelf-album">
      {chosen !== undefined && (
        <Form.Check
          className="shelf-choice"
          aria-label={t('Select {name}', { name })}
          checked={chosen}
          onChange={onChoose}
        />
      )}
      <Link to={`/albums/${id}/sequence`} className="shelf-link">
        <Cover artwork={artwork} title={title} />
        <strong>{name}</strong>
        <span>{performer || t('No performer yet')}</span>
      </Link>
      <div className="shelf-facts text-secondary">
        <span>
          {tracks > 0
            ? t('{tracks, plural, one {# track} other {# tracks}} · {length}', {
                tracks,
                length: formatDiscTime(frames),
              })
            : t('empty')}
        </span>
        <span>{t('changed {when}', { when: formatWhen(updatedAt, new Date()) })}</span>
        {rendering > 0 && (
          <span className="shelf-work" role="status">
            {t('{rendering, plural, one {# render} other {# renders}} in progress', { rendering })}
          </span>
        )}
        {coming > 0 && (
          <span className="shelf-work" role="status">
            {t('{coming, plural, one {# file} other {# files}} importing', { coming })}
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
    tell(t('“{name}” was deleted.', { name }), {
      label: t('Undo'),
      run: () => void restore().catch(complain),
    });
  };
  const deletes = useMay('delete');
  const download = useDownload();
  return (
    <IconMenu icon={MoreVertical} label={t('Actions for {name}', { name })} className="shelf-menu">
      <Dropdown.Item as="button" onClick={() => duplicate().catch(complain)}>
        <Copy size={16} aria-hidden /> {t('Duplicate')}
      </Dropdown.Item>
      <Dropdown.Item href={addressOf(CONTRACT.albumFile, { params: { id } })}>
        <FileDown size={16} aria-hidden /> {t('Download album file')}
      </Dropdown.Item>
      <Dropdown.Item as="button" onClick={() => download(addressOf(CONTRACT.bundle, { params: { id } }))}>
        <FolderArchive size={16} aria-hidden /> {t('Download with masters (ZIP)')}
      </Dropdown.Item>
      {deletes && (
        <>
          <Dropdown.Divider />
          <Dropdown.Item as="button" onClick={() => remove().catch(complain)}>
            <Trash2 size={16} aria-hidden /> {t('Delete')}
          </Dropdown.Item>
        </>
      )}
    </IconMenu>
  );
}
