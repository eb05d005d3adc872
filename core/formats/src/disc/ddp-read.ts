import { msg } from '@oiseau/messages';
import { Failure } from '@oiseau/audio/errors';
import type { ByteSource } from '@oiseau/audio/pcm';
import { formatMsf, frames, parseMsf, SECTOR_BYTES, type Frames } from '@oiseau/audio/time';
import { CdTextError, unpackCdText, type CdTextBlock } from './cd-text-packs.js';
import { parseEan } from './ean.js';
import { parseIsrc } from './isrc.js';

/** A folder with a disc description, as someone handed it over. */
export interface DdpFolder {
  /** null when there is no such file. */
  open(path: string): Promise<ByteSource | null>;
  /** Lower-case hexadecimal. */
  md5(path: string): Promise<string>;
}

export interface DdpMarkFound {
  readonly track: number;
  readonly index: number;
  readonly frames: Frames;
  readonly isrc: string;
  readonly copyPermitted: boolean;
  readonly preEmphasis: boolean;
}

/** What a disc description says. Whatever is wrong with it is told in a sentence each. */
export interface DdpFound {
  readonly upc: string;
  readonly masterId: string;
  /** Without lead-in and lead-out. */
  readonly marks: readonly DdpMarkFound[];
  /** null when the marks do not tell. */
  readonly leadOut: Frames | null;
  /** Name of the audio's file; null when the map names none. */
  readonly image: string | null;
  /** As the map tells. */
  readonly sectors: number | null;
  readonly cdText: readonly CdTextBlock[];
  readonly problems: readonly string[];
}

/** A folder that is no disc description at all. */
export class DdpError extends Failure {
  override readonly name = 'DdpError';
  readonly code = 'disc-description';
  readonly status = 422;
}

/**
 * The most bytes that each text file of a description can have: 100 streams; 99 tracks with 100 index points each; 8 blocks of 256 packs; a
 * line for each file. What is longer is not read.
 */
const MOST_BYTES = { DDPID: 4096, DDPMS: 12_800, marks: 640_000, text: 36_864, sums: 65_536 } as const;

const PACKET = 128;
const MARK_PACKET = 64;

/** A stretch of ASCII: its fields by offset and width, blanks at the end left off. */
class Fields {
  constructor(readonly bytes: Uint8Array) {}
  text(at: number, width: number): string {
    return String.fromCharCode(...this.bytes.subarray(at, at + width)).trimEnd();
  }
  /** null for blanks or anything else that is no number. */
  number(at: number, width: number): number | null {
    const text = this.text(at, width).trim();
    return /^\d+$/.test(text) ? Number(text) : null;
  }
}

interface MapPacket {
  readonly type: string;
  readonly length: number | null;
  readonly subcode: string;
  readonly name: string;
}

/**
 * Reads a disc description [DDP 2.00] by code of its own (only the checksum and the character sets of CD-Text are those of the writer): identification,
 * map, marks, CD-Text, and whether sizes, times and checksums agree.
 * @throws DdpError when DDPID or DDPMS is missing or is something else
 */
export async function readDdp(folder: DdpFolder): Promise<DdpFound> {
  const problems: string[] = [];
  const id = new Fields(await whole(folder, 'DDPID', 128, MOST_BYTES.DDPID));
  const level = id.text(0, 8);
  if (!level.startsWith('DDP ')) throw new DdpError(msg('DDPID does not begin with “DDP”.'));
  if (level !== 'DDP 2.00') problems.push(`DDPID has level “${level}”; only 2.00 is supported.`);
  if (id.bytes.length !== 128) problems.push(`DDPID has ${id.bytes.length} bytes; it must have 128.`);
  const upc = id.text(8, 13);
  if (upc !== '' && parseEan(upc) !== upc) problems.push(`DDPID: ${upc} isn’t a valid UPC/EAN.`);

  const packets = mapPackets(await whole(folder, 'DDPMS', PACKET, MOST_BYTES.DDPMS), problems);
  const audio = packets.find(({ type }) => type === 'D0');
  const pq = packets.find(({ subcode }) => subcode === 'PQ DESCR');
  const text = packets.find(({ subcode }) => subcode === 'CDTEXT');
  if (!audio) problems.push('DDPMS names no audio.');
  if (!pq) problems.push('DDPMS names no marks (PQ DESCR).');

  const { marks, leadOut, leadInUpc } = pq
    ? readMarks(await named(folder, pq, MOST_BYTES.marks, problems), problems)
    : { marks: [], leadOut: null, leadInUpc: '' };
  if (leadInUpc !== upc) problems.push(`The lead-in says UPC/EAN “${leadInUpc}”, DDPID says “${upc}”.`);
  if (audio) await checkImage(folder, audio, leadOut, problems);
  const cdText = text ? readText(await named(folder, text, MOST_BYTES.text, problems), problems) : [];
  await checkSums(folder, problems);
  return {
    upc,
    masterId: id.text(38, 48),
    marks,
    leadOut,
    image: audio?.name ?? null,
    sectors: audio?.length ?? null,
    cdText,
    problems,
  };
}

async function whole(folder: DdpFolder, path: string, least: number, most: number): Promise<Uint8Array> {
  const source = await folder.open(path);
  if (!source) throw new DdpError(msg('{path} is missing.', { path }));
  if (source.size < least)
    throw new DdpError(
      msg('{path} has {count} bytes; the minimum is {least}.', { path, count: source.size, least }),
    );
  if (source.size > most)
    throw new DdpError(
      msg('{path} has {count} bytes; the maximum is {most}.', { path, count: source.size, most }),
    );
  return source.read(0, source.size);
}

async function named(
  folder: DdpFolder,
  packet: MapPacket,
  most: number,
  problems: string[],
): Promise<Uint8Array> {
  const source = await folder.open(packet.name);
  if (!source) {
    problems.push(`${packet.name} is missing.`);
    return new Uint8Array();
  }
  if (source.size !== packet.length)
    problems.push(`${packet.name} has ${source.size} bytes; DDPMS says ${packet.length}.`);
  if (source.size > most) {
    problems.push(`${packet.name} has ${source.size} bytes; the maximum is ${most}.`);
    return new Uint8Array();
  }
  return source.read(0, source.size);
}

function mapPackets(bytes: Uint8Array, problems: string[]): MapPacket[] {
  if (bytes.length % PACKET !== 0)
    problems.push(`DDPMS has ${bytes.length} bytes, not a whole number of ${PACKET}-byte packets.`);
  const packets: MapPacket[] = [];
  for (let at = 0; at + PACKET <= bytes.length; at += PACKET) {
    const fields = new Fields(bytes.subarray(at, at + PACKET));
    if (fields.text(0, 4) !== 'VVVM') {
      problems.push(`Packet ${packets.length + 1} of DDPMS does not begin with VVVM.`);
      continue;
    }
    const name = fields.text(74, 17);
    // A name from outside must not lead out of its folder.
    if (/[/\\]|^\.\.?$/.test(name))
      throw new DdpError(msg('DDPMS names a file “{name}” outside its folder.', { name }));
    packets.push({
      type: fields.text(4, 2),
      length: fields.number(14, 8),
      subcode: fields.text(30, 8),
      name,
    });
  }
  return packets;
}

function readMarks(
  bytes: Uint8Array,
  problems: string[],
): { marks: DdpMarkFound[]; leadOut: Frames | null; leadInUpc: string } {
  if (bytes.length % MARK_PACKET !== 0)
    problems.push(`The marks have ${bytes.length} bytes, not a whole number of ${MARK_PACKET}-byte packets.`);
  const marks: DdpMarkFound[] = [];
  let leadOut: Frames | null = null;
  let leadInUpc: string | null = null;
  for (let at = 0; at + MARK_PACKET <= bytes.length; at += MARK_PACKET) {
    const fields = new Fields(bytes.subarray(at, at + MARK_PACKET));
    const track = fields.text(4, 2);
    const index = fields.number(6, 2);
    const time = parseMsf(`${fields.text(10, 2)}:${fields.text(12, 2)}:${fields.text(14, 2)}`);
    const control = parseInt(fields.text(16, 1), 16);
    if (fields.text(0, 4) !== 'VVVS' || index === null || time === undefined || Number.isNaN(control)) {
      problems.push(`Packet ${at / MARK_PACKET + 1} of the marks can't be read.`);
      continue;
    }
    if (track === '00') leadInUpc = fields.text(32, 13);
    else if (track === 'AA') leadOut = time;
    else
      marks.push({
        track: Number(track),
        index,
        frames: time,
        isrc: fields.text(20, 12),
        preEmphasis: (control & 1) !== 0,
        copyPermitted: (control & 2) !== 0,
      });
  }
  if (leadInUpc === null) problems.push('The marks have no lead-in.');
  if (leadOut === null) problems.push('The marks have no lead-out.');
  checkMarks(marks, leadOut, problems);
  return { marks, leadOut, leadInUpc: leadInUpc ?? '' };
}

/** The rules of a disc [IEC 60908] that its marks can break. */
function checkMarks(marks: readonly DdpMarkFound[], leadOut: Frames | null, problems: string[]): void {
  const say = (mark: DdpMarkFound): string => `Track ${mark.track} index ${mark.index}`;
  const first = marks.find(({ index }) => index === 1);
  if (first && first.frames < 150)
    problems.push(`Track 1 starts at ${formatMsf(first.frames)}; the minimum is 00:02:00.`);
  const [opening] = marks;
  if (opening && (opening.track !== 1 || opening.index !== 0 || opening.frames !== 0))
    problems.push('The marks do not begin with track 1 index 0 at 00:00:00.');
  const starts = marks.filter(({ index }) => index === 1);
  starts.forEach(({ track }, i) => {
    if (track !== i + 1) problems.push(`Track ${i + 1} is missing or out of order.`);
  });
  marks.forEach((mark, i) => {
    const before = marks[i - 1];
    if (before && mark.frames <= before.frames)
      problems.push(`${say(mark)} does not come after the previous mark.`);
    if (mark.isrc !== '' && parseIsrc(mark.isrc) === undefined)
      problems.push(`Track ${mark.track}: ${mark.isrc} isn’t a valid ISRC.`);
  });
  const last = marks.at(-1);
  if (last && leadOut !== null && leadOut <= last.frames)
    problems.push('The lead-out does not come after the last mark.');
  const opens = new Map<number, DdpMarkFound>();
  for (const mark of marks) if (mark.index <= 1 && !opens.has(mark.track)) opens.set(mark.track, mark);
  starts.forEach((start) => {
    const after = opens.get(start.track + 1);
    const end = after?.frames ?? leadOut;
    if (end !== null && end - start.frames < 300)
      problems.push(
        `Track ${start.track} is ${formatMsf(frames(Math.max(0, end - start.frames)))} long; the minimum is 00:04:00.`,
      );
  });
}

async function checkImage(
  folder: DdpFolder,
  audio: MapPacket,
  leadOut: Frames | null,
  problems: string[],
): Promise<void> {
  const source = await folder.open(audio.name);
  if (!source) {
    problems.push(`${audio.name} is missing.`);
    return;
  }
  const sectors = source.size / SECTOR_BYTES;
  if (sectors !== audio.length)
    problems.push(`${audio.name} has ${Number(sectors.toFixed(2))} sectors; DDPMS says ${audio.length}.`);
  if (leadOut !== null && sectors !== leadOut)
    problems.push(`${audio.name} has ${sectors} sectors, but the lead-out is at ${leadOut}.`);
}

function readText(bytes: Uint8Array, problems: string[]): CdTextBlock[] {
  try {
    return unpackCdText(bytes);
  } catch (error) {
    if (!(error instanceof CdTextError)) throw error;
    problems.push(`The CD-Text: ${error.message}`);
    return [];
  }
}

/** Lines of `md5sum`: every file that they name must be there and agree. */
async function checkSums(folder: DdpFolder, problems: string[]): Promise<void> {
  const source = await folder.open('MD5SUMS');
  if (!source) return;
  if (source.size > MOST_BYTES.sums) {
    problems.push(`MD5SUMS has ${source.size} bytes; the maximum is ${MOST_BYTES.sums}.`);
    return;
  }
  const lines = new TextDecoder().decode(await source.read(0, source.size)).split(/\r?\n/);
  // Each file is read once, however often it is named.
  const known = new Map<string, string>();
  for (const line of lines.filter((each) => each.trim() !== '')) {
    const [, sum, path] = /^([0-9a-f]{32}) [ *](.+)$/i.exec(line) ?? [];
    if (sum === undefined || path === undefined || /[/\\]|^\.\.?$/.test(path)) {
      problems.push(`MD5SUMS has a line that can't be read: “${line.slice(0, 80)}”.`);
      continue;
    }
    if (!known.has(path)) known.set(path, (await folder.open(path)) ? await folder.md5(path) : 'missing');
    const found = known.get(path);
    if (found === 'missing') problems.push(`MD5SUMS names ${path}, which is missing.`);
    else if (found !== sum.toLowerCase()) problems.push(`The checksum of ${path} differs from MD5SUMS.`);
  }
}
