import { msg, type Message } from '@oiseau/messages';
import { refusalReason } from '@oiseau/api';
import { atMost, isDeeperThan } from '@oiseau/audio/schema';
import { Failure } from '@oiseau/audio/errors';
import * as z from 'zod';

/** A receiver that does not answer at the moment, or has no room: it is tried again. */
export class ReceiverAway extends Failure {
  override readonly name = 'ReceiverAway';
  readonly code = 'receiver-away';
  readonly status = 409;
}

/** A receiver that does not want what it is sent, in its own words. */
export class ReceiverRefused extends Failure {
  override readonly name = 'ReceiverRefused';
  readonly code = 'receiver-refused';
  readonly status = 409;
  constructor(
    message: string | Message,
    readonly answer: { readonly code?: string | undefined; readonly received?: number | undefined },
  ) {
    super(message);
  }
}

/** One answer takes no longer. */
const PATIENCE_MS = 60_000;
/** Bytes of an answer, and more for each file of the shipment that it lists; an answer with more is none of the protocol. */
const MOST_ANSWER = 100_000;
const MOST_PER_FILE = 5000;
const MOST_OF_ALL = 1_000_000;
/** Objects and lists within each other: a receipt has five. */
const MOST_DEPTH = 20;
/** Bytes of a sector with its subcode. */
const SECTOR_BYTES = 2448;

const failure = z.looseObject({
  error: z.string().max(2000).optional(),
  code: z.string().max(100).optional(),
  received: z.int().min(0).optional(),
});

/** A shipment as a receiver tells of it. */
const shipment = z.looseObject({
  id: z.string().min(1).max(200),
  state: z.string().max(100),
  final: z.boolean().default(false),
  progress: z.number().default(0),
  reasons: atMost(200, 'reasons', z.array(refusalReason)).default([]),
  receipt: z.record(z.string(), z.unknown()).nullable().default(null),
  files: atMost(
    5000,
    'files',
    z.array(z.looseObject({ path: z.string().max(500), bytes: z.int().min(0), received: z.int().min(0) })),
  ),
});
export type RemoteShipment = z.output<typeof shipment>;

const about = z.looseObject({ protocol: z.literal(1), kind: z.string(), name: z.string() });
const medium = z.looseObject({ kind: z.enum(['none', '74', '80']), state: z.string() });
const disc = z.looseObject({ shipment: z.string(), sectors: z.int(), cdText: z.base64() });

/** Speaks with a receiver (standins/README.md). Its token goes to it alone, and into no error. */
export class ReceiverClient {
  constructor(
    readonly url: string,
    readonly token: string,
    /** Files of the shipment that is spoken of. */
    readonly files = 0,
  ) {}

  /** The same receiver, spoken to about a shipment of so many files. */
  ofShipment(files: number): ReceiverClient {
    return new ReceiverClient(this.url, this.token, files);
  }

  get #most(): number {
    return Math.min(MOST_OF_ALL, MOST_ANSWER + MOST_PER_FILE * this.files);
  }

  async #ask(method: string, path: string, init: RequestInit = {}): Promise<Response> {
    let response: Response;
    try {
      response = await fetch(`${this.url.replace(/\/$/, '')}${path}`, {
        ...init,
        method,
        redirect: 'error',
        headers: { Authorization: `Bearer ${this.token}`, ...init.headers },
        signal: AbortSignal.timeout(PATIENCE_MS),
      });
    } catch (cause) {
      const isLate = cause instanceof Error && cause.name === 'TimeoutError';
      throw new ReceiverAway(
        isLate
          ? msg('The recipient took too long to respond.')
          : msg('The recipient can’t be reached, or the connection failed.'),
        { cause },
      );
    }
    if (response.ok) return response;
    const said = failure.safeParse(await readJson(response, MOST_ANSWER).catch(() => ({})));
    const words = said.success ? said.data.error : undefined;
    if (response.status >= 500 || response.status === 408 || response.status === 429)
      throw new ReceiverAway(words ?? `The recipient responded with an error (${response.status}).`);
    if (response.status === 401 || response.status === 403)
      throw new ReceiverRefused(msg('The recipient rejected the token. Enter a new one in Recipients.'), {});
    throw new ReceiverRefused(
      words ?? `The recipient refused the request (${response.status}).`,
      said.success ? said.data : {},
    );
  }

  async #json<T>(schema: z.ZodType<T>, method: string, path: string, body?: unknown): Promise<T> {
    const init =
      body === undefined
        ? {}
        : { body: JSON.stringify(body), headers: { 'Content-Type': 'application/json' } };
    const read = schema.safeParse(await readJson(await this.#ask(method, path, init), this.#most));
    if (read.success) return read.data;
    throw new ReceiverRefused(
      msg('The recipient’s response can’t be read: {list}.', {
        list: read.error.issues[0]?.path.join('.') ?? '',
      }),
      {},
    );
  }

  about = () => this.#json(about, 'GET', '/');
  medium = () => this.#json(medium, 'GET', '/medium');
  putMedium = (kind: 'none' | '74' | '80') => this.#json(medium, 'PUT', '/medium', { kind });

  announce = (told: { reference: string; what: object; files: object[] }): Promise<RemoteShipment> =>
    this.#json(shipment, 'POST', '/shipments', told);
  shipment = (id: string): Promise<RemoteShipment> =>
    this.#json(shipment, 'GET', `/shipments/${encodeURIComponent(id)}`);
  complete = (id: string): Promise<RemoteShipment> =>
    this.#json(shipment, 'POST', `/shipments/${encodeURIComponent(id)}/complete`);

  /** Sends bytes of a file. @returns how many the receiver has of it now */
  async append(id: string, place: number, offset: number, bytes: Buffer): Promise<number> {
    const response = await this.#ask('PATCH', `/shipments/${encodeURIComponent(id)}/files/${place}`, {
      body: new Uint8Array(bytes),
      headers: { 'Content-Type': 'application/octet-stream', 'Upload-Offset': String(offset) },
    });
    return z.object({ received: z.int().min(0) }).parse(await readJson(response, MOST_ANSWER)).received;
  }

  /** Takes a shipment back while it is not complete. */
  async takeBack(id: string): Promise<void> {
    await this.#ask('DELETE', `/shipments/${encodeURIComponent(id)}`);
  }

  /** Ends the writing of a disc. */
  async cancel(id: string): Promise<void> {
    await this.#ask('POST', `/shipments/${encodeURIComponent(id)}/cancel`);
  }

  /** A written disc may leave the drive. */
  async next(id: string, copy: number): Promise<void> {
    await this.#json(z.looseObject({}), 'POST', `/shipments/${encodeURIComponent(id)}/next`, { copy });
  }

  disc = () => this.#json(disc, 'GET', '/disc');
  async sectors(from: number, count: number): Promise<Uint8Array> {
    const response = await this.#ask('GET', `/disc/sectors?from=${from}&count=${count}`);
    return new Uint8Array(await bodyOf(response, count * SECTOR_BYTES));
  }
}

/** An answer of so many bytes at most; a line that breaks in it is one like any other. @throws ReceiverRefused */
async function bodyOf(response: Response, most: number): Promise<Buffer> {
  const parts: Buffer[] = [];
  let size = 0;
  try {
    for await (const piece of response.body ?? []) {
      parts.push(Buffer.from(piece as Uint8Array));
      size += (piece as Uint8Array).length;
      if (size > most) throw new ReceiverRefused(msg('The recipient’s response is too long.'), {});
    }
  } catch (cause) {
    if (cause instanceof ReceiverRefused) throw cause;
    throw new ReceiverAway(msg('The connection failed during a response.'), { cause });
  }
  return Buffer.concat(parts);
}

async function readJson(response: Response, most: number): Promise<unknown> {
  const text = (await bodyOf(response, most)).toString('utf8');
  if (isDeeperThan(text, MOST_DEPTH))
    throw new ReceiverRefused(msg('The recipient’s response is nested too deeply.'), {});
  try {
    return text === '' ? {} : JSON.parse(text);
  } catch (cause) {
    throw new ReceiverAway(msg('The recipient’s response isn’t JSON.'), { cause });
  }
}
