import { ImagePlus } from 'lucide-react';
import { useRef, useState } from 'react';
import { Button } from 'react-bootstrap';
import { useAlbum } from '../album/AlbumContext.js';
import { sendFile } from '../api/client.js';
import { Cover } from '../shelf/Cover.js';
import { useNotices } from '../ui/Notices.js';

export function CoverField() {
  const { album, edit } = useAlbum();
  const { complain } = useNotices();
  const input = useRef<HTMLInputElement>(null);
  const [busy, setBusy] = useState(false);
  const take = async (file: File): Promise<void> => {
    setBusy(true);
    try {
      const { sha256 } = await sendFile<{ sha256: string }>(
        `/pictures?name=${encodeURIComponent(file.name)}`,
        file,
      );
      edit('cover', (before) => ({ ...before, artwork: sha256 }));
    } finally {
      setBusy(false);
    }
  };
  return (
    <div className="sleeve-cover">
      <Cover artwork={album.artwork} title={album.title} />
      <input
        ref={input}
        type="file"
        accept="image/jpeg,image/png"
        hidden
        aria-label="Cover picture"
        onChange={({ target }) => {
          const file = target.files?.[0];
          target.value = '';
          if (file) take(file).catch(complain);
        }}
      />
      <Button size="sm" variant="outline-primary" disabled={busy} onClick={() => input.current?.click()}>
        <ImagePlus size={16} aria-hidden /> {album.artwork ? 'Another cover' : 'Choose a cover'}
      </Button>
    </div>
  );
}
