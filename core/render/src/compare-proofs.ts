import { msg, type Message } from '@oiseau/messages';
import type { Made, Proof, ProofFile } from './proof-file.js';

/** How a file of a render differs from the one of an earlier render under the same path. */
export interface FileDifference {
  readonly path: string;
  /** `words`: the audio differs; `around`: the audio is the same, the data beside it differs; `bytes`: unknown which. */
  readonly what: 'new' | 'gone' | 'words' | 'around' | 'bytes';
}

/** A render laid against an earlier one of the same revision and settings. */
export interface ProofComparison {
  /** What made the earlier one; null where that was not noted. */
  readonly before: Made | null;
  readonly differences: readonly FileDifference[];
}

/** Lays a proof against an earlier one of the same revision and settings, file by file. */
export function compareProofs(before: Proof, now: Proof): ProofComparison {
  const earlier = new Map(before.files.map((file) => [file.path, file]));
  const differences = now.files.flatMap((file): FileDifference[] => {
    const old = earlier.get(file.path);
    earlier.delete(file.path);
    if (!old) return [{ path: file.path, what: 'new' }];
    return old.sha256 === file.sha256 ? [] : [{ path: file.path, what: howDiffers(old, file) }];
  });
  const gone = [...earlier.keys()].map((path): FileDifference => ({ path, what: 'gone' }));
  return { before: before.made ?? null, differences: [...differences, ...gone] };
}

/** The running sum of the words tells; a lossy file and one without audio have none. */
function howDiffers(old: ProofFile, now: ProofFile): FileDifference['what'] {
  const sum = ({ tests }: ProofFile) => tests.find(({ id }) => id === 'audio')?.found ?? null;
  if (sum(old) === null || sum(now) === null) return 'bytes';
  return sum(old) === sum(now) ? 'around' : 'words';
}

const DIFFERENCES: Record<FileDifference['what'], (path: string) => Message> = {
  new: (path) => msg('“{path}” is new.', { path }),
  gone: (path) => msg('“{path}” is missing.', { path }),
  words: (path) => msg('“{path}” has different audio.', { path }),
  around: (path) => msg('“{path}” has the same audio and different tags.', { path }),
  bytes: (path) => msg('“{path}” has different bytes.', { path }),
};

/** What a comparison says, in one sentence. @param now what made the later render */
export function comparisonWords({ before, differences }: ProofComparison, now: Made | null): Message {
  const [first] = differences;
  if (!first) return msg('The same bytes as before.');
  const more = differences.length - 1;
  const values = { first: DIFFERENCES[first.what](first.path), more, reason: reasonOf(before, now) };
  return more === 0
    ? msg('Different bytes than before. {first} {reason}', values)
    : msg(
        'Different bytes than before. {first} {more, plural, one {One more file differs.} other {# more files differ.}} {reason}',
        values,
      );
}

/** Bytes are promised for the same revision by the same versions. */
function reasonOf(before: Made | null, now: Made | null): Message {
  if (!before || !now) return msg('The versions that rendered the earlier files are unknown.');
  const oiseau =
    before.oiseau === now.oiseau
      ? null
      : msg('Oiseau {before} rendered the earlier files, {now} these.', {
          before: before.oiseau,
          now: now.oiseau,
        });
  const ffmpeg =
    before.ffmpeg === now.ffmpeg
      ? null
      : msg('FFmpeg {before} encoded the earlier files, {now} these.', {
          before: before.ffmpeg ?? '–',
          now: now.ffmpeg ?? '–',
        });
  if (oiseau && ffmpeg) return msg('{oiseau} {ffmpeg}', { oiseau, ffmpeg });
  return oiseau ?? ffmpeg ?? msg('The same versions rendered both, so this is unexpected.');
}
