import { Disc3 } from 'lucide-react';
import { useEffect, useEffectEvent, useRef, useState, type ChangeEvent } from 'react';
import { Button, Modal, ProgressBar } from 'react-bootstrap';
import { useNavigate } from 'react-router';
import { CONTRACT } from '@oiseau/api';
import { call } from '../api/client.js';
import { sendByPieces } from '../api/upload.js';
import { useNotices } from '../ui/Notices.js';
import { t } from '../ui/messages.js';

/** Opens a third-party disc image: a folder with DDPID, or a cue sheet with its image. @param dropped files of one that were dropped */
export function OpenImageButton({ dropped }: { readonly dropped: readonly File[] | null }) {
  const input = useRef<HTMLInputElement>(null);
  const [progress, setProgress] = useState<number | null>(null);
  const stop = useRef<AbortController | null>(null);
  const navigate = useNavigate();
  const { complain } = useNotices();

  const send = async (files: readonly File[]): Promise<void> => {
    const ours = new AbortController();
    stop.current = ours;
    setProgress(0);
    const total = Math.max(
      1,
      files.reduce((sum, { size }) => sum + size, 0),
    );
    let before = 0;
    try {
      const sent: { upload: string; name: string }[] = [];
      for (const file of files) {
        const upload = await sendByPieces(
          file,
          (share) => setProgress((before + share * file.size) / total),
          ours.signal,
        );
        before += file.size;
        sent.push({ upload, name: file.name });
      }
      const { id } = await call(CONTRACT.openImage, { body: { files: sent } });
      await navigate(`/images/${id}`);
    } finally {
      setProgress(null);
    }
  };
  const take = (all: readonly File[]): void => {
    // What a file system puts beside the files of people is none of the image.
    const files = all.filter(({ name }) => !name.startsWith('.'));
    if (files.length > 0)
      send(files).catch((error: unknown) => {
        if (!stop.current?.signal.aborted) complain(error);
      });
  };
  const choose = ({ target }: ChangeEvent<HTMLInputElement>): void => {
    const files = [...(target.files ?? [])];
    target.value = '';
    take(files);
  };
  const onDropped = useEffectEvent(take);
  useEffect(() => {
    if (dropped) onDropped(dropped);
  }, [dropped]);
  return (
    <>
      <input
        ref={input}
        type="file"
        multiple
        hidden
        aria-label={t('Files of a disc image')}
        onChange={choose}
      />
      <Button
        variant="outline-primary"
        title={t('All files of a DDP folder, or a cue sheet and its image')}
        onClick={() => input.current?.click()}
      >
        <Disc3 size={16} aria-hidden /> {t('Open a disc image')}
      </Button>
      <Modal show={progress !== null} backdrop="static" keyboard={false} aria-labelledby="image-title">
        <Modal.Header>
          <Modal.Title id="image-title">{t('Opening the disc image')}</Modal.Title>
        </Modal.Header>
        <Modal.Body>
          <ProgressBar now={100 * (progress ?? 0)} aria-label={t('Uploading the disc image')} />
        </Modal.Body>
        <Modal.Footer>
          <Button variant="outline-primary" onClick={() => stop.current?.abort()}>
            {t('Stop')}
          </Button>
        </Modal.Footer>
      </Modal>
    </>
  );
}
