import { stat } from 'node:fs/promises';
import { dirname, join } from 'node:path/posix';
import { SECTOR } from './codes.js';
import { discFaults, type Disc, type DiscMark } from './disc.js';
import { soundOf } from './sound.js';
import type { Reason, Shipment, Shipments } from '../shipment.js';

/** The two seconds of first pause, which the file of an image with a cue sheet does not hold. */
const FIRST_PAUSE = 150;

/** Reads an image with a cue sheet as a drive does: one file of 44.1 kHz, 16 bit, stereo. */
export async function readCueImage(
  shipments: Shipments,
  shipment: Shipment,
  sheet: string,
): Promise<{ disc: Disc | null; reasons: Reason[] }> {
  const reasons: Reason[] = [];
  const fault = (code: string, message: string): void => void reasons.push({ code, message, file: sheet });
  const text = ((await shipments.bytes(shipment, sheet)) ?? Buffer.alloc(0)).toString('utf8');
  let upc = '';
  let file: { name: string; kind: string } | null = null;
  const marks: (DiscMark & { isrc: string; control: number })[] = [];
  const track = { number: 0, isrc: '', control: 0 };
  for (const line of text.split(/\r?\n/).map((each) => each.trim())) {
    const [word = '', ...rest] = line.split(/\s+/);
    if (word === 'CATALOG') upc = rest[0] ?? '';
    else if (word === 'FILE') {
      const [, name = '', kind = ''] = /^FILE "(.*)" (\w+)$/.exec(line) ?? [];
      if (file) fault('cue', 'The cue sheet has several files; a drive takes one.');
      file = { name, kind };
    } else if (word === 'TRACK') Object.assign(track, { number: Number(rest[0]), isrc: '', control: 0 });
    else if (word === 'ISRC') track.isrc = rest[0] ?? '';
    else if (word === 'FLAGS')
      track.control = (rest.includes('PRE') ? 1 : 0) + (rest.includes('DCP') ? 2 : 0);
    else if (word === 'INDEX') {
      const [minutes = NaN, seconds = NaN, frames = NaN] = (rest[1] ?? '').split(':').map(Number);
      const at = FIRST_PAUSE + (minutes * 60 + seconds) * 75 + frames;
      if (!Number.isInteger(at)) fault('cue', `“${line}” isn’t a valid index.`);
      marks.push({
        track: track.number,
        index: Number(rest[0]),
        at,
        isrc: track.isrc,
        control: track.control,
      });
    }
  }
  if (!file) {
    fault('cue', 'The cue sheet names no file.');
    return { disc: null, reasons };
  }
  const name = join(dirname(sheet), file.name);
  const path = shipments.named(shipment, name);
  if (path === undefined) {
    fault('cue', `“${file.name}”, named in the cue sheet, was not sent.`);
    return { disc: null, reasons };
  }
  const sound = await soundOf(path);
  const raw = file.kind === 'BINARY';
  if (!raw && !(sound?.form === 'wav' && sound.rate === 44_100 && sound.bits === 16 && sound.channels === 2))
    fault('audio', `“${file.name}” isn’t a 44.1 kHz 16-bit stereo WAV file.`);
  const { size, offset } = raw
    ? { size: await sizeOf(path), offset: 0 }
    : { size: sound?.bytes ?? 0, offset: sound?.offset ?? 0 };
  if (size % SECTOR !== 0) fault('audio', `“${file.name}” does not end on a sector boundary.`);
  const [first] = marks;
  const disc = {
    upc,
    marks:
      first?.index === 1
        ? [{ ...first, index: 0, at: 0 }, ...marks]
        : marks.map((mark, i) => (i === 0 ? { ...mark, at: 0 } : mark)),
    leadOut: FIRST_PAUSE + size / SECTOR,
  };
  reasons.push(...discFaults(disc, sheet));
  return {
    disc: { ...disc, audio: { path: name, from: FIRST_PAUSE, offset }, packs: new Uint8Array() },
    reasons,
  };
}

const sizeOf = async (path: string): Promise<number> => (await stat(path)).size;
