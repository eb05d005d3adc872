import { execFile } from 'node:child_process';
import { setTimeout as sleep } from 'node:timers/promises';
import { promisify } from 'node:util';
import * as z from 'zod';
import { fencedFfmpeg } from './fenced.js';
import { bytesOf } from './readers/bytes.js';
import type { Receiver, ReceiverParts } from './receiver.js';
import type { Reason, Shipment } from './shipment.js';

const run = promisify(execFile);
/** One file is measured no longer. */
const PATIENCE_MS = 30 * 60_000;

/** What a service must be told of each file. */
const what = z.looseObject({
  tracks: z
    .array(z.looseObject({ path: z.string(), title: z.string().min(1), performer: z.string().min(1) }))
    .min(1),
});

/** LUFS at which it plays, and the true peak that it never goes over. */
const TARGET_LUFS = -14;
const CEILING_DBTP = -1;

interface Loud {
  readonly lufs: number | null;
  readonly peakDbtp: number | null;
}

/** Integrated loudness and true peak by FFmpeg's own meter; null figures for silence. */
async function loudnessOf(path: string): Promise<Loud | null> {
  try {
    const meter = ['-map', '0:a:0', '-af', 'ebur128=peak=true', '-f', 'null', '-'];
    const { file, args, env } = fencedFfmpeg(path, await bytesOf(path, 0, 12), meter);
    const { stderr } = await run(file, args, { env, maxBuffer: 64 << 20, timeout: PATIENCE_MS });
    const summary = stderr.slice(stderr.lastIndexOf('Summary:'));
    const [, lufs] = /I:\s+(-?[\d.]+|-?inf) LUFS/.exec(summary) ?? [];
    const [, peak] = /Peak:\s+(-?[\d.]+|-?inf) dBFS/.exec(summary) ?? [];
    const figure = (text: string | undefined): number | null =>
      text === undefined || text.includes('inf') ? null : Number(text);
    return { lufs: figure(lufs), peakDbtp: figure(peak) };
  } catch {
    return null;
  }
}

/** How much louder it plays a file: up to its target, never past its ceiling. dB. */
function gainOf({ lufs, peakDbtp }: Loud): number {
  if (lufs === null) return 0;
  const wanted = TARGET_LUFS - lufs;
  const room = CEILING_DBTP - (peakDbtp ?? CEILING_DBTP);
  return Math.round(10 * (wanted > 0 ? Math.max(0, Math.min(wanted, room)) : wanted)) / 10;
}

/** A streaming service: takes files with their words and cover one by one, and tells how loud it will play them. */
export function service({ shipments, paceMs, behaviour, isOpen }: ReceiverParts): Receiver {
  const judge = async (shipment: Shipment): Promise<Shipment> => {
    const reasons: Reason[] = await shipments.faults(shipment);
    const told = what.safeParse(shipment.what);
    if (!told.success) {
      const [issue] = told.error.issues;
      reasons.push({
        code: 'words',
        field: issue?.path.join('.') ?? '',
        message: `A file’s text is missing: ${issue?.path.join('.') ?? ''}.`,
      });
    }
    if (behaviour() === 'refuses')
      reasons.push({
        code: 'words',
        track: 1,
        field: 'tracks.0.title',
        message: 'The title of track 1 isn’t accepted.',
      });
    if (reasons.length > 0 || !told.success) return { ...shipment, state: 'refused', reasons };
    const tracks: object[] = [];
    for (const [i, { path, title }] of told.data.tracks.entries()) {
      const at = shipments.named(shipment, path);
      const loud = at === undefined ? null : await loudnessOf(at);
      if (!loud) {
        reasons.push({ code: 'audio', file: path, track: i + 1, message: `“${path}” can’t be played here.` });
        continue;
      }
      const gainDb = gainOf(loud);
      const playsAt = loud.lufs === null ? null : Math.round(10 * (loud.lufs + gainDb)) / 10;
      tracks.push({ path, title, ...loud, gainDb, playsAtLufs: playsAt });
      await shipments.keep({ ...shipment, state: 'measuring', progress: (i + 1) / told.data.tracks.length });
    }
    return reasons.length > 0
      ? { ...shipment, state: 'refused', reasons }
      : { ...shipment, state: 'measured', progress: 1, receipt: { targetLufs: TARGET_LUFS, tracks } };
  };
  return {
    kind: 'service',
    name: 'Shingle Stream',
    about: () => ({ takes: ['tracks', 'continuous'], targetLufs: TARGET_LUFS }),
    final: ['measured', 'refused'],
    work: async (shipment) => {
      await sleep(paceMs);
      if (isOpen()) await shipments.keep(await judge(shipment));
    },
  };
}
