import { msg } from '@oiseau/messages';
import { cuttingPaper, cuttingRows, type CuttingFigures, type CuttingSide } from '@oiseau/formats/disc';
import { LoudnessMeter, loudnessOverTime, TruePeakMeter } from '@oiseau/audio/measure';
import { linearToDb } from '@oiseau/audio/dsp';
import { openWav } from '@oiseau/audio/pcm';
import { ticksToSamples, ticksToSeconds } from '@oiseau/audio/time';
import type { PlannedCuttingSheet } from '../planned.js';
import type { RenderPorts } from '../ports.js';
import type { FileKind } from './file-kind.js';
import { proveSheet, sheetBytes, type SheetForms } from './sheet-proof.js';

/** Samples read at a time. */
const BLOCK = 16_384;

type Figures = readonly (readonly CuttingFigures[])[];

/** Measures the tracks of each side in the file that was written of it. */
async function measured({ order }: PlannedCuttingSheet, ports: RenderPorts): Promise<Figures> {
  const sides: (readonly CuttingFigures[])[] = [];
  for (const side of order.sides) sides.push(await measureSide(side, ports));
  return sides;
}

async function measureSide({ path, tracks }: CuttingSide, ports: RenderPorts): Promise<CuttingFigures[]> {
  const source = await openWav(await ports.openFile(path));
  const found: CuttingFigures[] = [];
  for (const { start, length } of tracks) {
    const loudness = new LoudnessMeter(source.rate);
    const peak = new TruePeakMeter(source.rate);
    const from = ticksToSamples(start, source.rate);
    const end = Math.min(source.length, from + ticksToSamples(length, source.rate));
    for (let at: number = from; at < end; at += BLOCK) {
      const block = await source.read(at, Math.min(BLOCK, end - at));
      loudness.push(block);
      peak.push(block);
    }
    const over = loudnessOverTime(loudness.powers(), 'short-term');
    const loudest = over.reduce<number>(
      (best, value, i) => ((value ?? -Infinity) > (over[best] ?? -Infinity) ? i : best),
      0,
    );
    const truePeak = peak.result();
    found.push({
      truePeakDbtp: truePeak > 0 ? linearToDb(truePeak) : null,
      loudestLufs: over[loudest] ?? null,
      loudestAt: over[loudest] == null ? null : ticksToSeconds(start) + (loudest + 1) / 10,
    });
  }
  return found;
}

/** Both forms of a sheet tell the same figures: they are measured once for both. */
const known = new WeakMap<object, Promise<Figures>>();

/** The sheet for a cutting room, as a table for machines and for print. */
export const cuttingSheetFile: FileKind<PlannedCuttingSheet> = {
  words: ({ order, form }) =>
    msg('cutting sheet, {tracks, plural, one {# track} other {# tracks}}, {form}', {
      tracks: order.sides.reduce((sum, { tracks }) => sum + tracks.length, 0),
      form: form.toUpperCase(),
    }),
  bytes: async (file, { ports }) => {
    const figures = known.get(file.order) ?? measured(file, ports);
    known.set(file.order, figures);
    return sheetBytes(file.form, formsOf(file, await figures), ports);
  },
  // Nothing of what was measured for the writing is believed: the files are measured again.
  prove: async (file, source, { ports, once }) => {
    const figures = await once(`figures of ${file.order.title}`, () => measured(file, ports));
    return proveSheet(file.form, formsOf(file, figures), source, ports);
  },
};

const formsOf = ({ order, language }: PlannedCuttingSheet, figures: Figures): SheetForms => ({
  rows: cuttingRows(order, figures),
  paper: cuttingPaper(order, figures, language),
});
