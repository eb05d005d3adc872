import { msg } from '@oiseau/messages';
import { nameOfSound, type SoundFigures } from '@oiseau/album/measured';
import {
  loudnessFigures,
  loudnessPaper,
  loudnessQuestions,
  loudnessRows,
  type PartLoudness,
} from '@oiseau/formats/papers';
import { measureSound } from '../measure-sound.js';
import type { PlannedLoudness } from '../planned.js';
import type { RenderInput } from '../render-input.js';
import type { FileKind } from './file-kind.js';
import { proveSheet, sheetBytes, type SheetForms } from './sheet-proof.js';

/** Measures every part as it is heard, and as it came in where something is done to it. */
async function measured(
  { order }: PlannedLoudness,
  { parts, masters }: RenderInput,
): Promise<PartLoudness[]> {
  const told = parts.filter(({ number }) => order.parts.some((part) => part.number === number));
  const figures = new Map<string, SoundFigures>();
  for (const sound of loudnessQuestions(told))
    figures.set(nameOfSound(sound), (await measureSound(sound, masters)).figures);
  return loudnessFigures(told, figures) ?? [];
}

/** Both forms tell the same figures: they are measured once for both, and the prover lays what is read against them. */
const known = new WeakMap<object, Promise<PartLoudness[]>>();

const formsOf = ({ order, language }: PlannedLoudness, figures: readonly PartLoudness[]): SheetForms => ({
  rows: loudnessRows(order, figures),
  paper: loudnessPaper(order, figures, language),
});

/** The loudness report of an album. */
export const loudnessFile: FileKind<PlannedLoudness> = {
  words: ({ form }) => msg('loudness report, {form}', { form: form.toUpperCase() }),
  bytes: async (file, { input, ports }) => {
    const figures = known.get(file.order) ?? measured(file, input);
    known.set(file.order, figures);
    return sheetBytes(file.form, formsOf(file, await figures), ports);
  },
  prove: async (file, source, { ports }) =>
    proveSheet(file.form, formsOf(file, (await known.get(file.order)) ?? []), source, ports),
};
