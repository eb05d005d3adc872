import type { Sounding } from '@oiseau/audio/measure';
import { frames, FRAMES_PER_SECOND } from '@oiseau/audio/time';

/** One piece of a long recording, from `start` to the next piece's start, or to the end. */
export interface Piece {
  /** Sample of the master. */
  readonly start: number;
  /** Empty: it will be named by its place. */
  readonly name: string;
  /** Whether it becomes a track. */
  readonly keep: boolean;
}

/**
 * A long recording on its way to being tracks: pieces without holes between them, the first from sample 0 on, starts strictly
 * rising. Every change is pure and keeps that so.
 */
export interface Cutting {
  /** Samples of the whole recording. */
  readonly length: number;
  readonly pieces: readonly Piece[];
}

export function startCutting(length: number): Cutting {
  return { length, pieces: [{ start: 0, name: '', keep: true }] };
}

/** Sample behind the last of a piece. */
export function pieceEnd({ pieces, length }: Cutting, index: number): number {
  return pieces[index + 1]?.start ?? length;
}

/** The piece that sounds at a sample. */
export function pieceAt({ pieces }: Cutting, at: number): number {
  return Math.max(
    0,
    pieces.findLastIndex(({ start }) => start <= at),
  );
}

/** Cuts at a sample; a cut that is there already, or at the very start or end, changes nothing. */
export function cutAt(cutting: Cutting, at: number, name = ''): Cutting {
  if (at <= 0 || at >= cutting.length || cutting.pieces.some(({ start }) => start === at)) return cutting;
  const index = pieceAt(cutting, at);
  const keep = cutting.pieces[index]?.keep ?? true;
  const pieces = cutting.pieces.toSpliced(index + 1, 0, { start: at, name, keep });
  return { ...cutting, pieces };
}

/** Moves the cut before piece `index` (1 or more), as far as its neighbours let it. */
export function moveCut(cutting: Cutting, index: number, to: number): Cutting {
  const before = cutting.pieces[index - 1];
  const piece = cutting.pieces[index];
  if (!before || !piece) return cutting;
  const start = Math.max(before.start + 1, Math.min(pieceEnd(cutting, index) - 1, Math.round(to)));
  return changePiece(cutting, index, { start });
}

/** Joins a piece (1 or more) to the one before it: the cut between them is gone, the earlier name stays. */
export function joinToPrevious(cutting: Cutting, index: number): Cutting {
  const before = cutting.pieces[index - 1];
  const piece = cutting.pieces[index];
  if (!before || !piece) return cutting;
  const joined = { ...before, name: before.name || piece.name, keep: before.keep || piece.keep };
  return { ...cutting, pieces: cutting.pieces.toSpliced(index - 1, 2, joined) };
}

export function changePiece(cutting: Cutting, index: number, change: Partial<Piece>): Cutting {
  return {
    ...cutting,
    pieces: cutting.pieces.map((piece, i) => (i === index ? { ...piece, ...change } : piece)),
  };
}

/**
 * Pieces from marks of any order. What lies before the first mark becomes a piece that is left out.
 * @param marks samples, with names that may be empty; those outside the recording are passed over
 */
export function cutAtMarks(
  length: number,
  marks: readonly { readonly at: number; readonly name: string }[],
): Cutting {
  const inside = marks.filter(({ at }) => at >= 0 && at < length).sort((a, b) => a.at - b.at);
  const first = inside[0];
  if (!first) return startCutting(length);
  const start: Cutting = {
    length,
    pieces: [{ start: 0, name: first.at === 0 ? first.name : '', keep: true }],
  };
  const cut = inside.reduce((cutting, { at, name }) => cutAt(cutting, at, name), start);
  return first.at > 0 ? changePiece(cut, 0, { keep: false }) : cut;
}

/** How long before a sound a cut that was found stands, in seconds: a breath, and never inside the sound before. */
const BREATH = 0.3;

/** Pieces from the sounds that a recording consists of: a cut shortly before each but the first. */
export function cutAtSoundings(length: number, rate: number, found: readonly Sounding[]): Cutting {
  const at = (frame: number): number => Math.round((frame * rate) / FRAMES_PER_SECOND);
  return found.slice(1).reduce((cutting, { start }, i) => {
    const before = found[i]?.end ?? frames(0);
    return cutAt(cutting, at(Math.max((before + start) / 2, start - BREATH * FRAMES_PER_SECOND)));
  }, startCutting(length));
}

/** The same cuts with the names of another cutting, piece by piece as far as they go. */
export function keepNames(cutting: Cutting, named: Cutting): Cutting {
  return {
    ...cutting,
    pieces: cutting.pieces.map((piece, i) => ({
      ...piece,
      name: piece.name || (named.pieces[i]?.name ?? ''),
    })),
  };
}
