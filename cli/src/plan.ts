import { editionNameOf, type Deliverable } from '@oiseau/album/model';
import { isInteger, wordBits } from '@oiseau/audio/pcm';
import { bytesAtMost, sampleChanges, type Plan, type PlannedAudio, type SampleChange } from '@oiseau/render';
import { openAlbum } from './album-on-disk.js';
import type { ExitStatus } from './exit.js';
import { chooseFrom, errorLines, planOf, type Choice } from './render.js';

interface PlanOrder extends Choice {
  readonly outside: boolean;
  /** Prints the plan as data. */
  readonly json: boolean;
}

/** A file as it would be written; null where a figure has no meaning. */
interface FileOfPlan {
  readonly path: string;
  readonly format: string | null;
  readonly bits: number | 'float' | null;
  readonly rate: number | null;
  readonly seconds: number | null;
  readonly bytesAtMost: number | null;
  readonly samples: SampleChange | null;
}

/** `oiseau plan ALBUM.json [--edition NAME] [--only NAME ...] [--preset NAME ...] [--json]`; its exit status is that of `check`. */
export async function plan(
  path: string,
  { outside, json, ...choice }: PlanOrder,
  print: (line: string) => void,
  report: (line: string) => void,
): Promise<ExitStatus> {
  const opened = await openAlbum(path, outside);
  try {
    const { chosen, album } = chooseFrom(opened.album, choice);
    const deliverables = chosen.map((deliverable) => {
      const { plan: planned, parts } = planOf({ ...opened, album }, deliverable);
      const changes = sampleChanges(planned, parts, opened.masters);
      return {
        name: deliverable.name,
        edition: editionNameOf(album, deliverable) || null,
        kind: deliverable.kind,
        files: filesOf(planned, changes),
      };
    });
    if (json) print(JSON.stringify({ deliverables }, null, 2));
    else deliverables.forEach((each) => linesOf(each).forEach(print));
    const errors = errorLines({ ...opened, album }, chosen);
    errors.forEach(report);
    return errors.length > 0 ? 1 : 0;
  } finally {
    await opened.close();
  }
}

function filesOf(plan: Plan, changes: ReadonlyMap<string, SampleChange>): FileOfPlan[] {
  const written = plan.files.map((file) =>
    file.kind === 'audio' ? audioFile(file, changes.get(file.path) ?? null) : otherFile(file.path),
  );
  return [...written, otherFile('proof.json')];
}

function audioFile(file: PlannedAudio, samples: SampleChange | null): FileOfPlan {
  const { path, coding, format, rate, length } = file;
  const isCoded = samples === 'coded';
  return {
    ...{ path, format: coding, rate, samples },
    bits: isCoded ? null : isInteger(format) ? wordBits(format) : 'float',
    seconds: length / rate,
    bytesAtMost: bytesAtMost(file),
  };
}

const otherFile = (path: string): FileOfPlan => ({
  ...{ path, format: null, bits: null, rate: null, seconds: null, bytesAtMost: null, samples: null },
});

function linesOf({
  name,
  edition,
  kind,
  files,
}: {
  readonly name: string;
  readonly edition: string | null;
  readonly kind: Deliverable['kind'];
  readonly files: readonly FileOfPlan[];
}): string[] {
  return [
    `${name} (${[edition && `edition “${edition}”`, kind].filter(Boolean).join(', ')})`,
    ...files.map(({ path, format, bits, rate, seconds, bytesAtMost, samples }) => {
      if (format === null) return `  ${path}`;
      const depth = bits === null ? '' : bits === 'float' ? '32 bit float, ' : `${bits} bit, `;
      const size = bytesAtMost === null ? '' : `, at most ${bytesAtMost} bytes`;
      return `  ${path}: ${format}, ${depth}${rate} Hz, ${seconds?.toFixed(3)} s${size}, ${samples}`;
    }),
  ];
}
