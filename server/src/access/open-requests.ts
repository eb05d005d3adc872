import type { Response } from 'express';

/**
 * Answers that are under way, by the key and by the session that they were asked for with: what is sent or received with one that is
 * revoked or ended is cut off at once.
 */
const open = new Map<string, Set<Response>>();

/** @param by the id of a key, or the token of a session */
export function noteOpen(by: string, response: Response): void {
  const responses = open.get(by) ?? new Set();
  open.set(by, responses.add(response));
  response.once('close', () => {
    responses.delete(response);
    if (responses.size === 0 && open.get(by) === responses) open.delete(by);
  });
}

/** Cuts off everything that is being sent or received with a key or a session. @param but the answer that says so */
export function endRequestsOf(by: string, but?: Response): void {
  for (const response of open.get(by) ?? []) if (response !== but) response.destroy();
}
