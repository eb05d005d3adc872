import { isMasterName } from '@oiseau/audio/pcm';
import type { ReactNode } from 'react';
import { useDropzone } from 'react-dropzone';
import { useLocation, useNavigate } from 'react-router';
import { useMay } from '../access/VisitorContext.js';
import { useAlbum } from '../album/AlbumContext.js';
import { useUploads } from '../masters/UploadContext.js';
import { useTakeCover } from '../sleeve/useTakeCover.js';
import { useNotices } from '../ui/Notices.js';
import { t } from '../ui/messages.js';

const isPicture = ({ name }: File): boolean => /\.(jpe?g|png)$/i.test(name);

/** Files that are dropped on any view of an album come into it; a picture on the Sleeve becomes the cover. */
export function DropAnywhere({ children }: { readonly children: ReactNode }) {
  const { id } = useAlbum('id');
  const works = useMay('work');
  const { queue } = useUploads();
  const takeCover = useTakeCover();
  const { tell, complain } = useNotices();
  const navigate = useNavigate();
  const view = useLocation().pathname.split('/')[3] ?? '';
  const take = (files: readonly File[]): void => {
    const pictures = files.filter(isPicture);
    const [picture] = pictures;
    const onSleeve = view === 'sleeve';
    // A folder of masters has its cover with it; one that is alone is meant.
    const others = files.filter((file) => !isPicture(file));
    if (onSleeve && picture) takeCover(picture).catch(complain);
    else if (picture && others.length === 0)
      tell(t('To set artwork, drop the picture on the Sleeve.'), {
        label: t('Show the Sleeve'),
        run: () => void navigate(`/albums/${id}/sleeve`),
      });
    if (others.length === 0) return;
    queue.add(others);
    const coming = others.filter(({ name }) => isMasterName(name)).length;
    if (view !== 'masters')
      tell(
        t('Importing {count, plural, one {# file} other {# files}}.', {
          count: coming > 0 ? coming : others.length,
        }),
        {
          label: t('Show'),
          run: () => void navigate(`/albums/${id}/masters`),
        },
      );
  };
  const { getRootProps, isDragActive } = useDropzone({
    onDrop: take,
    disabled: !works,
    ...{ noClick: true, noKeyboard: true },
  });
  return (
    <div {...getRootProps({ className: 'album-frame', tabIndex: undefined, role: undefined })}>
      {children}
      {isDragActive && (
        <div className="drop-hint">
          {view === 'sleeve' ? t('Drop to add masters or artwork') : t('Drop to add masters')}
        </div>
      )}
    </div>
  );
}
