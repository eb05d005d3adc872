import type { Response } from 'express';

/** Answers that are under way, by the key that they were asked for with: a revoked key's uploads and downloads end at once. */
const open = new Map<string, Set<Response>>();

export function noteOpen(keyId: string, response: Response): void {
  const responses = open.get(keyId) ?? new Set();
  open.set(keyId, responses.add(response));
  response.once('close', () => {
    responses.delete(response);
    if (responses.size === 0 && open.get(keyId) === responses) open.delete(keyId);
  });
}

/** Cuts off everything that is being sent or received with a key. */
export function endRequestsOf(keyId: string): void {
  for (const response of open.get(keyId) ?? []) response.destroy();
}
