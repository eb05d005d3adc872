import { open, readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import express from 'express';
import * as z from 'zod';
import { subcodeOf } from './drive-subcode.js';
import { writeDurably } from './durable.js';
import { Refusal } from './intake.js';
import { msf, SECTOR } from './readers/codes.js';
import { readCueImage } from './readers/cue.js';
import { readDescription } from './readers/ddp.js';
import type { Disc } from './readers/disc.js';
import type { Receiver, ReceiverParts } from './receiver.js';
import type { Reason, Shipment } from './shipment.js';

/** Sectors that a blank of each length holds. */
const CAPACITY = { '74': 74 * 60 * 75, '80': 359_847 } as const;
const SPEEDS = [4, 8, 16, 24, 48] as const;
/** A disc can't be written in steps finer than that. */
const STEP_MS = 50;

const medium = z.strictObject({
  kind: z.enum(['none', '74', '80']),
  state: z.enum(['blank', 'written', 'ruined']).default('blank'),
  /** The shipment that was written on it. */
  shipment: z.string().nullable().default(null),
});
type Medium = z.output<typeof medium>;

const orders = z.object({
  speed: z.union(SPEEDS.map((speed) => z.literal(speed))),
  /** Writes with the beam off first. */
  test: z.boolean().default(false),
  copies: z.int().min(1).max(50).default(1),
  /** The image within the shipment: the folder of a disc description with `/` behind it (or empty), or a cue sheet. */
  image: z.string().default(''),
});

/** A writer of discs with one tray. */
class Drive {
  #medium: Medium = { kind: '80', state: 'blank', shipment: null };
  /** One disc is written at a time. */
  #turn: Promise<void> = Promise.resolve();

  constructor(readonly parts: ReceiverParts) {}

  get #file(): string {
    return join(this.parts.shipments.folder, '..', 'medium.json');
  }

  async medium(): Promise<Medium> {
    const text = await readFile(this.#file, 'utf8').catch(() => null);
    try {
      if (text !== null) this.#medium = medium.parse(JSON.parse(text));
    } catch {
      // The note was emptied or cut: what lay in the drive last counts, after a start a blank disc.
    }
    return this.#medium;
  }

  async put(now: Medium): Promise<Medium> {
    this.#medium = now;
    await writeDurably(this.#file, JSON.stringify(now));
    return now;
  }

  async imageOf(shipment: Shipment): Promise<{ disc: Disc | null; reasons: Reason[] }> {
    const { image } = orders.parse(shipment.what);
    return image.endsWith('.cue')
      ? readCueImage(this.parts.shipments, shipment, image)
      : readDescription(this.parts.shipments, shipment, image);
  }

  /** Waits its turn, then writes every copy. */
  async work(shipment: Shipment): Promise<void> {
    const before = this.#turn;
    let done: () => void = () => undefined;
    this.#turn = new Promise((resolve) => (done = resolve));
    try {
      await before;
      await this.#write(shipment);
    } finally {
      done();
    }
  }

  async #write(given: Shipment): Promise<void> {
    const { shipments, isOpen } = this.parts;
    const now = (): Shipment => shipments.find(given.id) ?? given;
    const keep = (change: Partial<Shipment>): Promise<void> => shipments.keep({ ...now(), ...change });
    if (now().state === 'writing') {
      // The power went while the beam was on.
      await this.put({ ...(await this.medium()), state: 'ruined' });
      return keep({
        state: 'failed',
        reasons: [{ code: 'broken-off', message: 'Writing was interrupted; the disc is unusable.' }],
      });
    }
    const read = await this.imageOf(now());
    const reasons = [...(now().state === 'received' ? await shipments.faults(now()) : []), ...read.reasons];
    const { disc } = read;
    if (reasons.length > 0 || !disc) return keep({ state: 'refused', reasons });
    const { copies, speed, test } = orders.parse(now().what);
    for (let copy = Number(now().own.copy ?? 1); copy <= copies; copy++) {
      if (now().state !== 'written') {
        if (!(await this.#blank(now, keep, disc))) return;
        if (test && !(await this.#burn(now, keep, disc, speed, copy, 'testing'))) return;
        if (!(await this.#burn(now, keep, disc, speed, copy, 'writing'))) return;
      }
      // It stays in the drive to be read until it is ejected.
      while (isOpen() && now().state === 'written' && !now().own.cancelled) await sleep(STEP_MS);
      if (!isOpen()) return;
      if (now().own.cancelled) return keep({ state: 'cancelled', reasons: [] });
    }
    await keep({ state: 'done', progress: 1, receipt: { copies, length: msf(disc.leadOut), speed } });
  }

  /** Waits for a blank that is long enough. @returns false where nothing more is to be done */
  async #blank(
    now: () => Shipment,
    keep: (change: Partial<Shipment>) => Promise<void>,
    disc: Disc,
  ): Promise<boolean> {
    for (; this.parts.isOpen(); await sleep(STEP_MS)) {
      if (now().own.cancelled) {
        await keep({ state: 'cancelled', reasons: [] });
        return false;
      }
      const { kind, state } = await this.medium();
      if (this.parts.behaviour() === 'wrong-medium') {
        await keep({
          state: 'failed',
          reasons: [
            { code: 'wrong-medium', message: 'The image isn’t an audio disc, so the drive can’t write it.' },
          ],
        });
        return false;
      }
      const why =
        kind === 'none'
          ? 'No disc is loaded.'
          : state !== 'blank'
            ? 'The loaded disc isn’t blank.'
            : disc.leadOut > CAPACITY[kind]
              ? `The loaded disc holds ${msf(CAPACITY[kind])}; ${msf(disc.leadOut)} are needed.`
              : null;
      if (why === null) {
        if (now().reasons.length > 0) await keep({ reasons: [] });
        return true;
      }
      if (now().state !== 'wants-medium' || now().reasons[0]?.message !== why)
        await keep({ state: 'wants-medium', reasons: [{ code: 'medium', message: why }] });
    }
    return false;
  }

  /** Writes a copy, or does as if. @returns false where it failed, or the drive was turned off */
  async #burn(
    now: () => Shipment,
    keep: (change: Partial<Shipment>) => Promise<void>,
    disc: Disc,
    speed: number,
    copy: number,
    state: 'testing' | 'writing',
  ): Promise<boolean> {
    const { paceMs, behaviour, isOpen } = this.parts;
    const whole = (disc.leadOut / 75 / speed) * paceMs;
    const blank = await this.medium();
    const fail = async (code: string, message: string): Promise<false> => {
      if (state === 'writing') await this.put({ ...blank, state: 'ruined' });
      await keep({ state: 'failed', reasons: [{ code, message }] });
      return false;
    };
    await keep({ state, progress: 0, own: { ...now().own, copy }, receipt: { copy, speed } });
    for (let passed = 0; passed < whole; passed += STEP_MS) {
      await sleep(Math.min(STEP_MS, whole - passed));
      if (!isOpen()) return false;
      const share = Math.min(1, (passed + STEP_MS) / whole);
      if (now().own.cancelled) {
        await fail(
          'cancelled',
          state === 'writing' ? 'Stopped by the user; the disc is unusable.' : 'Stopped by the user.',
        );
        return false;
      }
      const mode = behaviour();
      if (mode === 'runs-dry' && share >= 0.4)
        return fail(
          'ran-dry',
          `Buffer underrun at ${Math.round(share * 100)} %. Try a lower speed${state === 'writing' ? ' and a new disc; this one is unusable' : ''}.`,
        );
      if (mode === 'bad-medium' && state === 'writing' && share >= 0.6)
        return fail('bad-medium', 'Writing failed at the outer edge; the disc is unusable.');
      // Ten times a second to the disk would keep a tenth of a core busy.
      this.parts.shipments.note({ ...now(), progress: share });
    }
    if (state === 'writing') {
      await this.put({ ...blank, state: 'written', shipment: now().id });
      await keep({ state: 'written', progress: 1 });
    }
    return true;
  }

  /** The disc in the drive, to be read. */
  async inside(): Promise<{ disc: Disc; shipment: Shipment }> {
    const { state, shipment: id } = await this.medium();
    const shipment = state === 'written' && id !== null ? this.parts.shipments.find(id) : undefined;
    const disc = shipment && (await this.imageOf(shipment)).disc;
    if (!disc || !shipment) throw new Refusal(409, 'medium', 'No written disc is loaded.');
    return { disc, shipment };
  }

  /** Sectors with their subcode, 2448 bytes each. */
  async sectors(from: number, count: number): Promise<Buffer> {
    const { disc, shipment } = await this.inside();
    const path = this.parts.shipments.named(shipment, disc.audio.path);
    const end = Math.min(disc.leadOut, from + count);
    if (path === undefined || from < 0 || end <= from)
      throw new Refusal(416, 'sectors', 'The disc doesn’t have these sectors.');
    const out = Buffer.alloc((end - from) * (SECTOR + 96));
    const file = await open(path, 'r');
    try {
      for (let at = from; at < end; at++) {
        const place = (at - from) * (SECTOR + 96);
        const byte = (at - disc.audio.from) * SECTOR + disc.audio.offset;
        if (at >= disc.audio.from) await file.read(out, place, SECTOR, byte);
        // A scratch: what the drive gives back there is none of what was written.
        if (this.parts.behaviour() === 'reading-errors' && at % 1000 === 777)
          out.fill(0x5a, place, place + SECTOR);
        out.set(subcodeOf(disc, at), place + SECTOR);
      }
    } finally {
      await file.close();
    }
    return out;
  }
}

/** A writer of discs. */
export function drive(parts: ReceiverParts): Receiver {
  const machine = new Drive(parts);
  return {
    kind: 'drive',
    name: 'Lantern Room Drive',
    about: () => ({ takes: ['ddp', 'cue'], speeds: SPEEDS }),
    final: ['done', 'failed', 'refused', 'cancelled'],
    work: (shipment) => machine.work(shipment),
    routes: (router) => {
      router.get('/medium', async (_request, response) => void response.json(await machine.medium()));
      router.put('/medium', express.json(), async (request, response) => {
        const busy = parts.shipments.all().some(({ state }) => state === 'writing' || state === 'testing');
        if (busy) throw new Refusal(409, 'busy', 'The drive is writing, so its tray can’t open.');
        response.json(await machine.put(medium.parse(request.body)));
      });
      router.post('/shipments/:id/next', express.json(), async (request, response) => {
        // Repeating the request means the same copy.
        const { copy } = z.object({ copy: z.int() }).parse(request.body);
        const shipment = parts.shipments.find(request.params.id);
        if (!shipment) throw new Refusal(404, 'shipment', 'This shipment doesn’t exist here.');
        if (shipment.state === 'written' && shipment.own.copy === copy)
          await parts.shipments.keep({ ...shipment, state: 'waiting' });
        response.json({ state: parts.shipments.find(shipment.id)?.state });
      });
      router.post('/shipments/:id/cancel', async (request, response) => {
        const shipment = parts.shipments.find(request.params.id);
        if (!shipment) throw new Refusal(404, 'shipment', 'This shipment doesn’t exist here.');
        await parts.shipments.keep({ ...shipment, own: { ...shipment.own, cancelled: true } });
        response.json({});
      });
      router.get('/disc', async (_request, response) => {
        const { disc, shipment } = await machine.inside();
        response.json({
          shipment: shipment.id,
          sectors: disc.leadOut,
          cdText: Buffer.from(disc.packs).toString('base64'),
        });
      });
      router.get('/disc/sectors', async (request, response) => {
        const query = z.object({
          from: z.coerce.number().int(),
          count: z.coerce.number().int().min(1).max(2000),
        });
        const { from, count } = query.parse(request.query);
        response.type('application/octet-stream').send(await machine.sectors(from, count));
      });
    },
  };
}
