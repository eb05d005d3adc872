import { ask, CONTRACT, fetchWithKey, type AnswerOf, type Call, type Endpoint } from '@oiseau/api';
import type { Album } from '@oiseau/album/model';

/** The few calls of the public API that the demo makes. */
export class Api {
  readonly #created: string[] = [];

  constructor(
    readonly base: string,
    readonly key: string,
  ) {}

  #call<E extends Endpoint>(
    endpoint: E,
    given: Call<E>,
    options: { file?: Uint8Array<ArrayBuffer> } = {},
  ): Promise<AnswerOf<E>> {
    return ask(fetchWithKey(this.base, this.key), endpoint, given, options);
  }

  async createAlbum(title: string): Promise<string> {
    const { id } = await this.#call(CONTRACT.createAlbum, { body: { title } });
    this.#created.push(id);
    return id;
  }

  /** Takes back every album that was made. */
  async deleteCreated(): Promise<void> {
    for (const id of this.#created) await this.#call(CONTRACT.deleteAlbum, { params: { id } });
  }

  async editAlbum(id: string, change: Partial<Album>): Promise<void> {
    const params = { id };
    const { version, album } = await this.#call(CONTRACT.album, { params });
    await this.#call(CONTRACT.saveAlbum, { params, body: { version, album: { ...album, ...change } } });
  }

  async uploadMaster(id: string, name: string, file: Uint8Array<ArrayBuffer>): Promise<string> {
    return (await this.#call(CONTRACT.sendMaster, { params: { id }, query: { name } }, { file })).sha256;
  }

  async uploadPicture(name: string, file: Uint8Array<ArrayBuffer>): Promise<string> {
    return (await this.#call(CONTRACT.sendPicture, { query: { name } }, { file })).sha256;
  }
}
