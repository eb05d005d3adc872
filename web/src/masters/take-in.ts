import { ApiFailure, CONTRACT, type Asked } from '@oiseau/api';
import { AudioRefused } from '@oiseau/audio/pcm';
import { untilChange } from '../api/changes.js';
import { call } from '../api/client.js';
import { saySentence, t } from '../ui/messages.js';

/** How often it is asked how far decoding is, where that is told and where it is not. */
const ASK_MS = { told: 5000, notTold: 400 };

/** What became of a file. */
export interface TakenIn {
  readonly sha256: string;
  /** The album has had it. */
  readonly known: boolean;
}

/**
 * Takes a file that was sent by pieces into an album; one that must be decoded is a job of the server’s, which goes on where this window is
 * closed and is stopped by the signal.
 * @param decoded is told how much is decoded, 0 to 1
 * @throws AudioRefused, ApiFailure; an AbortError when it was stopped
 */
export async function takeIn(
  albumId: string,
  order: Omit<Asked<typeof CONTRACT.addMaster>['body'], 'later'>,
  decoded: (share: number) => void,
  signal: AbortSignal,
): Promise<TakenIn> {
  const body = { ...order, later: true };
  const answer = await call(CONTRACT.addMaster, { params: { id: albumId }, body });
  if (!('intake' in answer)) return answer;
  const params = { id: answer.intake };
  for (;;) {
    const intake = await call(CONTRACT.intake, { params });
    const { state, share, taken, refusal } = intake;
    if (taken) return taken;
    if (refusal) throw new AudioRefused(refusal.reason as AudioRefused['reason'], saySentence(refusal) ?? '');
    if (state === 'failed')
      throw new ApiFailure(500, saySentence(intake) ?? t('The file couldn’t be decoded.'));
    if (state === 'stopped') throw new ApiFailure(409, t('Decoding was stopped.'));
    if (signal.aborted) {
      await call(CONTRACT.stopIntake, { params }).catch(() => undefined);
      throw new DOMException(t('The import was stopped.'), 'AbortError');
    }
    decoded(share);
    await untilChange('imports', ASK_MS, signal);
  }
}
