declare global {
  interface Window {
    /** What web/public/early.js has asked for, by address. */
    oiseauEarly?: Map<string, Promise<Response>>;
  }
}

/** Whether an early request hasn't been used yet. */
export const hasEarly = (): boolean => (window.oiseauEarly?.size ?? 0) > 0;

/** The answer that was asked for before the program was read: each once, and only a good one. */
export function takeEarly(address: string, request: RequestInit | undefined): Promise<Response> | undefined {
  if ((request?.method ?? 'GET') !== 'GET') return undefined;
  const early = window.oiseauEarly?.get(address);
  window.oiseauEarly?.delete(address);
  return early?.then((answer) => (answer.ok ? answer : fetch(address, request)));
}
