import { stat } from 'node:fs/promises';
import { sumOf, type Reason, type Shipment, type Shipments } from '../shipment.js';
import { crc16 } from './bytes.js';
import { SECTOR } from './codes.js';
import { discFaults, type Disc, type DiscMark } from './disc.js';

const text = (bytes: Buffer, at: number, width: number): string =>
  bytes.toString('latin1', at, at + width).trimEnd();
const number = (bytes: Buffer, at: number, width: number): number | null => {
  const digits = text(bytes, at, width).trim();
  return /^\d+$/.test(digits) ? Number(digits) : null;
};

/** Reads a disc description [DDP 2.00] as strictly as a plant does. @param folder empty, or with `/` behind it */
export async function readDescription(
  shipments: Shipments,
  shipment: Shipment,
  folder: string,
): Promise<{ disc: Disc | null; reasons: Reason[] }> {
  const reasons: Reason[] = [];
  const fault = (code: string, file: string, message: string): void =>
    void reasons.push({ code, message, file: folder + file });
  const read = (name: string): Promise<Buffer | null> => shipments.bytes(shipment, folder + name);

  const id = await read('DDPID');
  if (!id || id.length !== 128 || text(id, 0, 8) !== 'DDP 2.00') {
    fault('ddpid', 'DDPID', 'DDPID isn’t a 128-byte identification of level DDP 2.00.');
    return { disc: null, reasons };
  }
  const map = await read('DDPMS');
  if (!map || map.length === 0 || map.length % 128 !== 0) {
    fault('ddpms', 'DDPMS', 'DDPMS does not consist of packets of 128 bytes.');
    return { disc: null, reasons };
  }
  const streams = Array.from({ length: map.length / 128 }, (_, i) => map.subarray(i * 128, (i + 1) * 128));
  const streamOf = (type: string, subcode: string) =>
    streams.find(
      (packet) => text(packet, 4, 2) === type && (subcode === '' || text(packet, 30, 8) === subcode),
    );
  for (const packet of streams)
    if (text(packet, 0, 4) !== 'VVVM') fault('ddpms', 'DDPMS', 'A packet of DDPMS does not begin with VVVM.');
  const nameOf = (packet: Buffer): string => text(packet, 74, 17);
  const audio = streamOf('D0', '');
  const pq = streamOf('S0', 'PQ DESCR');
  if (!audio || !pq) {
    fault('ddpms', 'DDPMS', `DDPMS names no ${audio ? 'marks' : 'audio'}.`);
    return { disc: null, reasons };
  }
  if (text(audio, 38, 2) !== 'DA') fault('mode', 'DDPMS', 'The audio mode isn’t DA.');

  const marks: DiscMark[] = [];
  let leadOut: number | null = null;
  let upc = text(id, 8, 13);
  const descr = await read(nameOf(pq));
  if (!descr || descr.length % 64 !== 0) fault('pq', nameOf(pq), 'The marks are not in packets of 64 bytes.');
  else
    for (let at = 0; at < descr.length; at += 64) {
      const packet = descr.subarray(at, at + 64);
      const [track, index] = [text(packet, 4, 2), number(packet, 6, 2)];
      const [minutes, seconds, frames] = [
        number(packet, 10, 2),
        number(packet, 12, 2),
        number(packet, 14, 2),
      ];
      if (
        text(packet, 0, 4) !== 'VVVS' ||
        index === null ||
        minutes === null ||
        seconds === null ||
        frames === null
      ) {
        fault('pq', nameOf(pq), `The mark at byte ${at} can’t be read.`);
        continue;
      }
      if (seconds > 59 || frames > 74) fault('pq', nameOf(pq), `The time at byte ${at} is none.`);
      const time = (minutes * 60 + seconds) * 75 + frames;
      if (track === '00') upc = text(packet, 32, 13) || upc;
      else if (track === 'AA') leadOut = time;
      else
        marks.push({
          ...{ track: Number(track), index, at: time, isrc: text(packet, 20, 12) },
          control: parseInt(text(packet, 16, 2).charAt(0), 16),
        });
    }
  if (leadOut === null) fault('lead-out', nameOf(pq), 'The marks have no lead-out.');
  const length = number(audio, 14, 8);
  if (length !== leadOut) fault('length', 'DDPMS', `DDPMS says ${length} sectors, the marks ${leadOut}.`);
  const image = folder + nameOf(audio);
  const path = shipments.named(shipment, image);
  const size = path === undefined ? 0 : ((await stat(path).catch(() => null))?.size ?? 0);
  if (size !== (leadOut ?? 0) * SECTOR)
    fault('length', nameOf(audio), `The audio has ${size} bytes; ${(leadOut ?? 0) * SECTOR} are needed.`);

  const textStream = streamOf('S0', 'CDTEXT');
  const packs = (textStream && (await read(nameOf(textStream)))) ?? Buffer.alloc(0);
  if (textStream && packs.length !== number(textStream, 14, 8))
    fault('cd-text', nameOf(textStream), 'The CD-Text is not as long as DDPMS says.');
  for (let at = 0; at + 18 <= packs.length; at += 18)
    if (crc16(packs.subarray(at, at + 16)) !== packs.readUInt16BE(at + 16))
      fault(
        'cd-text',
        textStream ? nameOf(textStream) : '',
        `The checksum of CD-Text pack ${at / 18} is wrong.`,
      );

  const sums = await read('MD5SUMS');
  if (!sums) fault('checksums', 'MD5SUMS', 'MD5SUMS is missing.');
  for (const line of sums?.toString('utf8').split('\n').filter(Boolean) ?? []) {
    const [, sum = '', name = ''] = /^([0-9a-f]{32}) [ *](.+)$/.exec(line) ?? [];
    const at = shipments.named(shipment, folder + name);
    if (at === undefined || (await sumOf(at, 'md5')) !== sum)
      fault('checksums', name || 'MD5SUMS', `“${name}” is not what MD5SUMS says.`);
  }
  const disc = { upc, marks, leadOut: leadOut ?? 0 };
  reasons.push(...discFaults(disc, folder + nameOf(pq)));
  return { disc: { ...disc, audio: { path: image, from: 0, offset: 0 }, packs }, reasons };
}
