import type { Album } from '@oiseau/core';

/** The few calls of the public API that the demo makes. */
export class Api {
  readonly #created: string[] = [];

  constructor(readonly base: string) {}

  async #call<T>(
    method: string,
    path: string,
    body?: string | Uint8Array<ArrayBuffer>,
    type = 'application/json',
  ): Promise<T> {
    const response = await fetch(`${this.base}/api${path}`, {
      method,
      ...(body === undefined ? {} : { body, headers: { 'Content-Type': type } }),
    });
    const text = await response.text();
    const answer = (text === '' ? {} : JSON.parse(text)) as T & { error?: string };
    if (!response.ok) throw new Error(`${method} ${path}: ${answer.error ?? response.status}`);
    return answer;
  }

  async createAlbum(title: string): Promise<string> {
    const { id } = await this.#call<{ id: string }>('POST', '/albums', JSON.stringify({ title }));
    this.#created.push(id);
    return id;
  }

  /** Takes back every album that was made. */
  async deleteCreated(): Promise<void> {
    for (const id of this.#created) await this.#call('DELETE', `/albums/${id}`);
  }

  async editAlbum(id: string, change: Partial<Album>): Promise<void> {
    const { version, album } = await this.#call<{ version: number; album: Album }>('GET', `/albums/${id}`);
    await this.#call('PUT', `/albums/${id}`, JSON.stringify({ version, album: { ...album, ...change } }));
  }

  async uploadMaster(albumId: string, name: string, file: Uint8Array<ArrayBuffer>): Promise<string> {
    const path = `/albums/${albumId}/masters?name=${encodeURIComponent(name)}`;
    return (await this.#call<{ sha256: string }>('POST', path, file, 'application/octet-stream')).sha256;
  }

  async uploadPicture(name: string, file: Uint8Array<ArrayBuffer>): Promise<string> {
    const path = `/pictures?name=${encodeURIComponent(name)}`;
    return (await this.#call<{ sha256: string }>('POST', path, file, 'application/octet-stream')).sha256;
  }
}
