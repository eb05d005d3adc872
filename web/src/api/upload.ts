import { ApiFailure } from '@oiseau/api';
import { t } from '../ui/messages.js';

/** How long to wait before each new try after the line broke, in milliseconds. */
const RETRY_AFTER_MS = [0, 500, 1500, 4000, 10_000, 20_000, 30_000];

/**
 * Sends a file by pieces (the open protocol tus 1.0.0) and gives the upload's number. A broken line is waited out; a file whose upload
 * was broken off in an earlier visit goes on from where it was.
 * @param progress gets the share that has arrived, 0 to 1
 * @throws ApiFailure when it can't be sent, or `signal` stops it
 */
export async function sendByPieces(
  file: File,
  progress: (share: number) => void,
  signal: AbortSignal,
): Promise<string> {
  // Loaded by the first file that is sent: most visits send none.
  const { Upload } = await import('tus-js-client');
  if (signal.aborted) throw new ApiFailure(0, t('Stopped.'));
  return new Promise((resolve, reject) => {
    const upload = new Upload(file, {
      endpoint: '/api/uploads',
      retryDelays: RETRY_AFTER_MS,
      removeFingerprintOnSuccess: true,
      onProgress: (sent, total) => progress(total > 0 ? sent / total : 0),
      onError: () =>
        reject(new ApiFailure(0, t('The file couldn’t be uploaded: the server doesn’t respond.'))),
      onSuccess: () => resolve(upload.url?.split('/').at(-1) ?? ''),
    });
    const begin = async (): Promise<void> => {
      const [earlier] = await upload.findPreviousUploads();
      if (earlier) upload.resumeFromPreviousUpload(earlier);
      if (!signal.aborted) upload.start();
    };
    signal.addEventListener('abort', () => {
      // Abandoned: the uploaded part is deleted.
      upload.abort(true).catch(() => undefined);
      reject(new ApiFailure(0, t('Stopped.')));
    });
    begin().catch(reject);
  });
}
