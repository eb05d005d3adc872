import { randomUUID, timingSafeEqual } from 'node:crypto';
import type { Server } from 'node:http';
import { setTimeout as sleep } from 'node:timers/promises';
import express, { type Express, type Request, type Response, type NextFunction } from 'express';
import * as z from 'zod';
import { MISBEHAVIOURS, type Misbehaviour, type Receiver, type ReceiverParts } from './receiver.js';
import { announcement, Shipments, type Shipment } from './shipment.js';

/** An answer that is not all right. */
export class Refusal extends Error {
  constructor(
    readonly status: number,
    readonly code: string,
    message: string,
    readonly details: object = {},
  ) {
    super(message);
  }
}

export interface IntakeOptions {
  readonly token: string;
  readonly folder: string;
  /** Milliseconds that a step of the receiver's work takes. */
  readonly paceMs: number;
  readonly receiver: (parts: ReceiverParts) => Receiver;
}

const same = (a: string, b: string): boolean => {
  const [one, other] = [Buffer.from(a), Buffer.from(b)];
  return one.length === other.length && timingSafeEqual(one, other);
};

/** Bytes of a slow line in a second, and after how many of them one that drops breaks off. */
const SLOW = 256 * 1024;
const DROPS_AFTER = 300_000;

/** The protocol that all receivers share: see README.md. */
export class Intake {
  readonly app: Express = express();
  readonly receiver: Receiver;
  readonly shipments: Shipments;
  #behaviour: Misbehaviour = 'none';
  #open = true;
  readonly #working = new Map<string, Promise<void>>();
  /** Who writes to a file at the moment, by its path. */
  readonly #writing = new Map<string, { readonly request: Request; readonly ended: Promise<unknown> }>();

  constructor(readonly options: IntakeOptions) {
    this.shipments = new Shipments(options.folder);
    this.receiver = options.receiver({
      shipments: this.shipments,
      paceMs: options.paceMs,
      behaviour: () => this.#behaviour,
      isOpen: () => this.#open,
    });
    this.#routes();
  }

  async listen(port = 0): Promise<{ url: string; close(): Promise<void> }> {
    await this.shipments.load();
    const server = await new Promise<Server>((resolve, reject) => {
      const made = this.app.listen(port, '127.0.0.1', (error) => (error ? reject(error) : resolve(made)));
    });
    for (const shipment of this.shipments.all())
      if (shipment.state !== 'receiving' && !this.receiver.final.includes(shipment.state))
        this.#work(shipment);
    const address = server.address();
    const at = typeof address === 'object' && address ? address.port : port;
    return {
      url: `http://127.0.0.1:${at}`,
      close: async () => {
        this.#open = false;
        server.closeAllConnections();
        await new Promise((resolve) => server.close(resolve));
        await Promise.allSettled(this.#working.values());
      },
    };
  }

  #work(shipment: Shipment): void {
    if (this.#working.has(shipment.id)) return;
    const done = this.receiver
      .work(shipment)
      .catch(() => undefined)
      .finally(() => this.#working.delete(shipment.id));
    this.#working.set(shipment.id, done);
  }

  #routes(): void {
    const { app, receiver, shipments } = this;
    app.disable('x-powered-by');
    app.use((request, _response, next) => {
      const [, token = ''] = /^Bearer (\S+)$/.exec(request.headers.authorization ?? '') ?? [];
      const refused = this.#behaviour === 'refuses-token' && request.path !== '/behaviour';
      if (!same(token, this.options.token) || refused)
        throw new Refusal(401, 'token', 'The token is invalid.');
      next();
    });
    app.get('/', (_request, response) => {
      response.json({ protocol: 1, kind: receiver.kind, name: receiver.name, ...receiver.about() });
    });
    // A tester makes this recipient misbehave.
    app.put('/behaviour', express.json(), (request, response) => {
      this.#behaviour = z.strictObject({ mode: z.enum(MISBEHAVIOURS) }).parse(request.body).mode;
      response.json({ mode: this.#behaviour });
    });
    app.post('/shipments', express.json({ limit: '5mb' }), async (request, response) => {
      if (this.#behaviour === 'full') throw new Refusal(507, 'full', 'The recipient’s storage is full.');
      const told = announcement.parse(request.body);
      const known = shipments.withReference(told.reference);
      if (known) {
        response.json(await this.#told(known));
        return;
      }
      const shipment: Shipment = {
        ...{
          id: randomUUID(),
          ...told,
          state: 'receiving',
          reasons: [],
          receipt: null,
          progress: 0,
          own: {},
        },
      };
      await shipments.keep(shipment);
      response.status(201).json(await this.#told(shipment));
    });
    app.get('/shipments/:id', async (request, response) => {
      response.json(await this.#told(this.#find(request)));
    });
    app.patch('/shipments/:id/files/:place', async (request, response) => {
      const shipment = this.#find(request);
      const place = Number(request.params.place);
      const file = shipment.files[place];
      if (!file) throw new Refusal(404, 'file', 'The shipment doesn’t have this file.');
      if (shipment.state !== 'receiving') throw new Refusal(409, 'complete', 'The shipment is complete.');
      if (this.#behaviour === 'full') throw new Refusal(507, 'full', 'The recipient’s storage is full.');
      await this.#endOther(shipments.path(shipment, place));
      const received = await shipments.received(shipment, place);
      if (Number(request.headers['upload-offset']) !== received)
        throw new Refusal(409, 'offset', `“${file.path}” has ${received} bytes here.`, { received });
      const path = shipments.path(shipment, place);
      // Two may have waited for the same one to end; the later finds another offset, or is the only one.
      if (this.#writing.has(path))
        throw new Refusal(409, 'offset', 'Another client is uploading this file.', { received });
      const taken = this.#take(request, shipment, place, file.bytes);
      const ended = taken.catch(() => undefined).finally(() => this.#writing.delete(path));
      this.#writing.set(path, { request, ended });
      response.json({ received: await taken });
    });
    app.post('/shipments/:id/complete', async (request, response) => {
      const shipment = this.#find(request);
      if (shipment.state === 'receiving') {
        const now: Shipment = { ...shipment, state: 'received' };
        await shipments.keep(now);
        this.#work(now);
      }
      response.json(await this.#told(this.#find(request)));
    });
    app.delete('/shipments/:id', async (request, response) => {
      const shipment = this.#find(request);
      if (shipment.state !== 'receiving')
        throw new Refusal(409, 'complete', 'The shipment is complete and can’t be withdrawn.');
      await shipments.drop(shipment.id);
      response.status(204).end();
    });
    const own = express.Router();
    receiver.routes?.(own);
    app.use(own);
    app.use(() => {
      throw new Refusal(404, 'address', 'This address doesn’t exist here.');
    });
    app.use((error: unknown, _request: Request, response: Response, _next: NextFunction) => {
      if (response.headersSent) return void response.destroy();
      if (error instanceof Refusal)
        response.status(error.status).json({ error: error.message, code: error.code, ...error.details });
      else if (error instanceof z.ZodError) {
        const [issue] = error.issues;
        response
          .status(400)
          .json({ error: `${issue?.path.join('.') ?? ''}: ${issue?.message ?? ''}`, code: 'request' });
      } else response.status(500).json({ error: 'An error occurred at the recipient.', code: 'internal' });
    });
  }

  /** Who sends a file anew has lost the line of before: what still comes on that one is not written behind its back. */
  async #endOther(path: string): Promise<void> {
    const other = this.#writing.get(path);
    other?.request.destroy();
    await other?.ended;
  }

  /** Takes bytes of a file in, as far as they come. @returns how many there are of it now */
  async #take(request: Request, shipment: Shipment, place: number, most: number): Promise<number> {
    const file = await this.shipments.append(shipment, place);
    let taken = 0;
    let size = await this.shipments.received(shipment, place);
    try {
      for await (const piece of request as AsyncIterable<Buffer>) {
        if (size + piece.length > most)
          throw new Refusal(413, 'size', `More than the ${most} bytes that were announced.`);
        await file.write(piece);
        size += piece.length;
        taken += piece.length;
        if (this.#behaviour === 'slow') await sleep((1000 * piece.length) / SLOW);
        if (this.#behaviour === 'drops-line' && taken > DROPS_AFTER) {
          request.socket.destroy();
          break;
        }
      }
      await file.sync();
    } finally {
      await file.close();
    }
    return size;
  }

  #find(request: Request): Shipment {
    const shipment = this.shipments.find(String(request.params.id));
    if (!shipment) throw new Refusal(404, 'shipment', 'This shipment doesn’t exist here.');
    return shipment;
  }

  /** What is told of a shipment: everything but what the receiver keeps to itself. */
  async #told(shipment: Shipment): Promise<object> {
    const { own: _, files, ...rest } = shipment;
    const list = await Promise.all(
      files.map(async ({ path, bytes }, place) => ({
        path,
        bytes,
        received: await this.shipments.received(shipment, place),
      })),
    );
    return { ...rest, files: list, final: this.receiver.final.includes(shipment.state) };
  }
}
