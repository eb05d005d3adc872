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
export async function call<T>(
  method: string,
  path: string,
  body?: unknown,
  options: RequestInit = {},
): Promise<T> {
  const request: RequestInit = { method, ...options };
  if (body !== undefined)
    Object.assign(request, { body: JSON.stringify(body), headers: { 'Content-Type': 'application/json' } });
  const response = await fetch(`/api${path}`, request).catch(() => {
    throw new ApiFailure(0, NO_ANSWER);
  });
  const text = await response.text();
  const answer = text === '' ? undefined : (JSON.parse(text) as unknown);
  if (response.ok) return answer as T;
  const { error, ...details } = (answer ?? {}) as { error?: string };
  throw new ApiFailure(response.status, error ?? `The server answered ${response.status}.`, details);
}

/** Sends a file as the raw body, telling how far it is (0 to 1). */
export function sendFile<T>(
  path: string,
  file: File,
  progress: (share: number) => void,
  signal: AbortSignal,
): Promise<T> {
  return new Promise((resolve, reject) => {
    const request = new XMLHttpRequest();
    request.open('POST', `/api${path}`);
    request.setRequestHeader('Content-Type', 'application/octet-stream');
    request.responseType = 'json';
    request.upload.onprogress = ({ loaded, total }) => progress(total > 0 ? loaded / total : 0);
    request.onload = () => {
      const answer = request.response as (T & { error?: string }) | null;
      if (request.status < 300 && answer) resolve(answer);
      else reject(new ApiFailure(request.status, answer?.error ?? `The server answered ${request.status}.`));
    };
    request.onerror = () => reject(new ApiFailure(0, NO_ANSWER));
    request.onabort = () => reject(new ApiFailure(0, 'Stopped.'));
    signal.addEventListener('abort', () => request.abort());
    request.send(file);
  });
}
