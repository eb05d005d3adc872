import { randomBytes } from 'node:crypto';
import { mkdir, readFile } from 'node:fs/promises';
import { join } from 'node:path';
import * as z from 'zod';
import { drive } from './drive.js';
import { writeDurably } from './durable.js';
import { Intake } from './intake.js';
import { plant } from './plant.js';
import { service } from './service.js';
import { shop } from './shop.js';

const KINDS = { drive, plant, shop, service } as const;

/** A stand-in that listens. */
export interface Standin {
  readonly kind: keyof typeof KINDS;
  readonly name: string;
  readonly url: string;
  readonly token: string;
}

/** A token of its own for each, kept from start to start; one that was emptied or cut is made anew. */
async function tokenIn(folder: string): Promise<string> {
  const path = join(folder, 'token');
  const known = (await readFile(path, 'utf8').catch(() => '')).trim();
  if (/^[\w-]{32}$/.test(known)) return known;
  const token = randomBytes(24).toString('base64url');
  await writeDurably(path, `${token}\n`);
  return token;
}

/** Where they listen, with their tokens: for the server alone to read. */
export const listFile = (folder: string): string => join(folder, 'receivers.json');

const listed = z.array(z.object({ kind: z.string(), url: z.url() }));

/** The port that one had before, so that who knows its address finds it there again; 0: it had none. */
async function portBefore(folder: string, kind: string): Promise<number> {
  const text = await readFile(listFile(folder), 'utf8').catch(() => '[]');
  try {
    const known = listed.parse(JSON.parse(text)).find((standin) => standin.kind === kind);
    return known ? Number(new URL(known.url).port) : 0;
  } catch {
    // The list was emptied or cut: it is written anew in a moment.
    return 0;
  }
}

/**
 * Starts one of each kind on free loopback ports.
 * @param folder what they have taken lies below it
 * @param paceMs milliseconds that a second of their work takes
 */
export async function startStandins(
  folder: string,
  paceMs: number,
): Promise<{ standins: Standin[]; intakes: Record<keyof typeof KINDS, Intake>; close(): Promise<void> }> {
  const standins: Standin[] = [];
  const closes: (() => Promise<void>)[] = [];
  const intakes: Partial<Record<keyof typeof KINDS, Intake>> = {};
  for (const kind of Object.keys(KINDS) as (keyof typeof KINDS)[]) {
    const own = join(folder, kind);
    await mkdir(own, { recursive: true });
    const token = await tokenIn(own);
    const intake = new Intake({ token, folder: join(own, 'shipments'), paceMs, receiver: KINDS[kind] });
    const before = await portBefore(folder, kind);
    const { url, close } = await intake.listen(before).catch(() => intake.listen());
    intakes[kind] = intake;
    closes.push(close);
    standins.push({ kind, name: intake.receiver.name, url, token });
  }
  await writeDurably(listFile(folder), JSON.stringify(standins));
  return {
    standins,
    intakes: intakes as Record<keyof typeof KINDS, Intake>,
    close: async () => void (await Promise.all(closes.map((each) => each()))),
  };
}
