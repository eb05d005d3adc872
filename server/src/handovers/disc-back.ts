import { msg } from '@oiseau/messages';
import { join } from 'node:path';
import type { DiscReportRecord } from '@oiseau/api';
import { DiscComparison, RAW_SECTOR, type DiscImage, type WantedDisc } from '@oiseau/formats/disc';
import { encodeWords, type PcmSource } from '@oiseau/audio/pcm';
import { frames, SAMPLES_PER_FRAME } from '@oiseau/audio/time';
import { openImage } from '@oiseau/host';
import { readFile } from 'node:fs/promises';
import { JobFailed } from '../jobs/job-errors.js';
import type { ReceiverClient } from './receiver-client.js';
import type { Patience } from './sending.js';

/** Sectors that are read at a time: about two megabytes. */
const AT_A_TIME = 1000;

/** What the disc of an image must say. */
function wantedOf({ marks, leadOut, upc, tracks }: DiscImage): WantedDisc {
  const [first] = marks;
  if (leadOut === null || !first) throw new JobFailed(msg('The image has no marks.'));
  return {
    ...{ leadOut, upc },
    // The first pause begins the disc, whether the image holds it or not.
    marks:
      first.index === 0 && first.track === 1
        ? [{ ...first, frames: frames(0) }, ...marks.slice(1)]
        : [{ track: 1, index: 0, frames: frames(0) }, ...marks],
    tracks: tracks.map(({ isrc, preEmphasis, copyPermitted }) => ({
      isrc,
      control: (preEmphasis ? 1 : 0) + (copyPermitted ? 2 : 0),
    })),
  };
}

/** Reads the disc in a drive sector by sector with its subcode and CD-Text, and lays it against its image. @param folder in which the image lies */
export async function readDiscBack(
  client: ReceiverClient,
  folder: string,
  copy: number,
  patience: Patience,
): Promise<DiscReportRecord> {
  const { image, audio, close } = await openImage(folder);
  try {
    const wanted = wantedOf(image);
    if (!audio || !image.audio) throw new JobFailed(msg('The audio of the image is missing.'));
    const from = image.audio.from;
    const found = await patience.until(() => client.disc());
    const comparison = new DiscComparison(wanted);
    for (let at = 0; at < found.sectors; at += AT_A_TIME) {
      const count = Math.min(AT_A_TIME, found.sectors - at);
      const raw = await patience.until(() => client.sectors(at, count));
      if (raw.length !== count * RAW_SECTOR)
        throw new JobFailed(msg('The drive returned fewer sectors than requested.'));
      comparison.push(raw, await audioOf(audio, at - from, count));
      await patience.well('read', at / found.sectors);
    }
    const packs = await readFile(join(folder, 'CDTEXT.BIN')).catch(() => Buffer.alloc(0));
    const textIsSame = Buffer.from(found.cdText, 'base64').equals(packs);
    const report = comparison.report();
    return { copy, ...report, codes: [...report.codes], textIsSame, isSame: report.isSame && textIsSame };
  } finally {
    await close();
  }
}

/** Sectors of the image, silence before its first. */
async function audioOf(audio: PcmSource, at: number, count: number): Promise<Uint8Array> {
  const bytes = new Uint8Array(count * SAMPLES_PER_FRAME * 4);
  const first = Math.max(0, at);
  if (at + count <= 0) return bytes;
  const block = await audio.read(first * SAMPLES_PER_FRAME, (at + count - first) * SAMPLES_PER_FRAME);
  bytes.set(encodeWords(block, 'int16'), (first - at) * SAMPLES_PER_FRAME * 4);
  return bytes;
}
