/** A refusal by the server, or no answer at all; the message is a sentence for the person. */
export class ApiFailure extends Error {
  override readonly name = 'ApiFailure';
  constructor(
    /** HTTP status; 0 when there was no answer. */
    readonly status: number,
    message: string,
    readonly details: Readonly<Record<string, unknown>> = {},
  ) {
    super(message);
  }
}

const NO_ANSWER = 'The server does not answer. Is Oiseau still running?';

/** One call of the API with a JSON body. */
export function call<T>(method: string, path: string, body?: unknown, options: RequestInit = {}): Promise<T> {
  const request: RequestInit = { method, ...options };
  if (body !== undefined)
    Object.assign(request, { body: JSON.stringify(body), headers: { 'Content-Type': 'application/json' } });
  return ask(path, request);
}

/** Sends a small file (a cover) as the raw body. Masters go by pieces: see `upload.ts`. */
export function sendFile<T>(path: string, file: File): Promise<T> {
  return ask(path, { method: 'POST', body: file, headers: { 'Content-Type': 'application/octet-stream' } });
}

async function ask<T>(path: string, request: RequestInit): Promise<T> {
  const response = await fetch(`/api${path}`, request).catch(() => {
    throw new ApiFailure(0, NO_ANSWER);
  });
  const text = await response.text();
  const answer = text === '' ? undefined : (JSON.parse(text) as unknown);
  if (response.ok) return answer as T;
  const { error, ...details } = (answer ?? {}) as { error?: string };
  throw new ApiFailure(response.status, error ?? `The server answered ${response.status}.`, details);
}
