import { ImageOff, ImagePlus } from 'lucide-react';
import { useRef, useState } from 'react';
import { Button } from 'react-bootstrap';
import { useAlbum } from '../album/AlbumContext.js';
import { Cover } from '../shelf/Cover.js';
import { useNotices } from '../ui/Notices.js';
import { FileInput } from '../ui/FileInput.js';
import { useTakeCover } from './useTakeCover.js';
import { t } from '../ui/messages.js';

export function CoverField() {
  const { album, edit } = useAlbum('album', 'edit');
  const { complain } = useNotices();
  const input = useRef<HTMLInputElement>(null);
  const takeCover = useTakeCover();
  const [busy, setBusy] = useState(false);
  const take = async (file: File): Promise<void> => {
    setBusy(true);
    try {
      await takeCover(file);
    } finally {
      setBusy(false);
    }
  };
  return (
    <div className="sleeve-cover">
      <Cover artwork={album.artwork} title={album.title} whole />
      <FileInput
        ref={input}
        label={t('Cover picture')}
        accept="image/jpeg,image/png"
        onFile={(file) => void take(file).catch(complain)}
      />
      <Button size="sm" variant="outline-primary" disabled={busy} onClick={() => input.current?.click()}>
        <ImagePlus size={16} aria-hidden /> {album.artwork ? t('Replace cover') : t('Choose a cover')}
      </Button>
      {album.artwork && (
        <Button
          size="sm"
          variant="link"
          onClick={() => edit(t('no cover'), (before) => ({ ...before, artwork: null }))}
        >
          <ImageOff size={16} aria-hidden /> {t('Remove cover')}
        </Button>
      )}
    </div>
  );
}
