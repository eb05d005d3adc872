import { z } from './schema-settings.js';
import { DITHER_KINDS, type DitherKind } from '../dsp/dither.js';
import { SAMPLE_RATES } from '../pcm/pcm-file.js';
import { unknownWords } from './name-pattern.js';

/** Kinds and formats that the album file knows and that later versions will render. */
const KINDS_TO_COME = ['ddp', 'continuous'];
const FORMATS_TO_COME = ['aiff', 'mp3', 'm4a', 'opus', 'ogg'];

const folderName = z
  .string()
  .min(1)
  .max(100)
  .refine((name) => !/[/\\:*?"<>|\p{Cc}]/u.test(name) && !/^[.\s]|[.\s]$/.test(name), {
    error: (issue) => `“${String(issue.input)}” is no plain folder name.`,
  });

const dither = z.enum(DITHER_KINDS);

/** A disc image with a cue sheet: 44.1 kHz, 16 bit. */
const cueDeliverable = z.strictObject({
  name: folderName,
  kind: z.literal('cue'),
  audio: z
    .enum(['wav', 'bin'], { error: (issue) => `“${String(issue.input)}” is not known; wav and bin are.` })
    .default('wav'),
  dither: dither.default('triangular'),
});

/** One file for each track. */
const tracksDeliverable = z
  .strictObject({
    name: folderName,
    kind: z.literal('tracks'),
    format: z
      .enum(['wav', 'flac'], {
        error: (issue) =>
          FORMATS_TO_COME.includes(String(issue.input))
            ? `“${String(issue.input)}” can't be rendered yet; wav and flac can.`
            : `“${String(issue.input)}” is not known; wav and flac are.`,
      })
      .default('wav'),
    bits: z.union([z.literal(16), z.literal(24), z.literal(32), z.literal('float')]).default(24),
    rate: z.union([z.literal('source'), z.literal([...SAMPLE_RATES])]).default('source'),
    dither: dither.optional(),
    gaps: z.enum(['append', 'prepend', 'drop']).default('append'),
    pattern: z
      .string()
      .min(1)
      .max(200)
      .default('{number} {title}')
      .superRefine((pattern, context) => {
        for (const word of unknownWords(pattern))
          context.addIssue({ code: 'custom', message: `{${word}} is not known in a name pattern.` });
      }),
    /** Track numbers from 1; null: all. */
    select: z.array(z.int().min(1).max(99)).min(1).nullable().default(null),
  })
  .refine(({ format, bits }) => format !== 'flac' || bits === 16 || bits === 24, {
    path: ['bits'],
    message: 'FLAC holds 16 or 24 bits.',
  });

export const deliverableSchema = z.discriminatedUnion('kind', [cueDeliverable, tracksDeliverable], {
  error: (issue) => {
    if (issue.code !== 'invalid_union') return undefined;
    const kind = (issue.input as { kind?: unknown } | null)?.kind;
    if (kind === undefined) return 'The kind is missing; cue and tracks can be rendered.';
    return KINDS_TO_COME.includes(String(kind))
      ? `Kind “${String(kind)}” can't be rendered yet; cue and tracks can.`
      : `Kind “${String(kind)}” is not known; cue and tracks are.`;
  },
});

export type Deliverable = z.output<typeof deliverableSchema>;
export type CueDeliverable = z.output<typeof cueDeliverable>;
export type TracksDeliverable = z.output<typeof tracksDeliverable>;

/** The dither in force: as chosen, or triangular where words are shortened to 16 bit, else none. */
export function ditherOf(deliverable: Deliverable): DitherKind {
  if (deliverable.kind === 'cue') return deliverable.dither;
  return deliverable.dither ?? (deliverable.bits === 16 ? 'triangular' : 'none');
}
