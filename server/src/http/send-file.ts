import { basename, dirname } from 'node:path';
import type { Response } from 'express';

/** For what never changes under its address; only the browser of who asked may keep it, no cache between. */
export const IMMUTABLE = 'private, max-age=31536000, immutable';

/** Sends a file of ours, or the range of it that was asked for; a folder that begins with a dot above it is none of its concern. */
export function sendFile(response: Response, path: string): void {
  response.sendFile(basename(path), { root: dirname(path), dotfiles: 'allow' });
}
