import { applyFade, layOut, pcmFileBytes, PcmFileSource, Programme, type Block } from '@oiseau/core';
import { HttpByteSource } from './http-byte-source.js';
import type {
  AudioChunk,
  AudioDemand,
  Heard,
  PlayerProgramme,
  WorkerMessage,
  WorkerReport,
} from './protocol.js';

/** The disc's rate: what is heard is what the image will hold, before dither. */
const RATE = 44_100;
/**
 * The first chunk is short, so that sound starts at once; each one after it is twice as long, up to a second, so that
 * it is ready before the one before has been heard.
 */
const FIRST_CHUNK = 588 * 5;
const LONGEST_CHUNK = 588 * 75;
/** Samples computed ahead of what has been heard; fewer while single stretches are heard, so that an edit is heard soon. */
const AHEAD = RATE * 4;
const AHEAD_OF_STRETCH = Math.round(RATE * 0.35);
const LONGEST_CHUNK_OF_STRETCH = 588 * 10;
/** Where a stretch begins or ends, and where an edit takes over, the sound changes over so many samples: no click. */
const RAMP = Math.round(RATE * 0.008);

/** Sources outlive programmes: after an edit the same masters are still at hand, and one master is one source. */
const sources = new Map<string, PcmFileSource>();
let programme: Programme | undefined;
let line: MessagePort | undefined;
/** The programme before the last edit, until its sound has been faded over to the new one. */
let earlier: Programme | undefined;
let current: Run = idle(-1, 0, null);

/** One playing, from a press of play to its end. */
interface Run {
  readonly run: number;
  sent: number;
  taken: number;
  position: number;
  chunk: number;
  busy: boolean;
  heard: Heard | null;
  /** Which of the stretches is heard. */
  stretch: number;
}

function idle(run: number, position: number, heard: Heard | null): Run {
  return { run, sent: 0, taken: 0, position, chunk: FIRST_CHUNK, busy: false, heard, stretch: 0 };
}

function build({ sequence, masters }: PlayerProgramme): Programme {
  const ofTracks = masters.map(({ url, info }) => {
    const source = sources.get(url) ?? new PcmFileSource(info, new HttpByteSource(url, pcmFileBytes(info)));
    sources.set(url, source);
    return source;
  });
  return new Programme(sequence, layOut(sequence), ofTracks, RATE);
}

/**
 * Computes a moment of each rate that the album has, and throws it away: the filters are designed and the code is warm
 * before somebody presses play.
 */
async function warmUp(of: Programme, { sequence, masters }: PlayerProgramme): Promise<void> {
  const { tracks } = layOut(sequence);
  const rates = new Map(masters.map(({ info }, i) => [info.rate, tracks[i]]));
  for (const placed of rates.values()) {
    if (placed) await of.read(of.at(placed.audioStart), FIRST_CHUNK).catch(() => undefined);
  }
}

/** Computes chunks until enough lies ahead or the programme ends. */
async function fill(): Promise<void> {
  const mine = current;
  if (mine.busy || mine.run < 0) return;
  mine.busy = true;
  try {
    while (
      mine === current &&
      programme &&
      mine.sent - mine.taken < (mine.heard ? AHEAD_OF_STRETCH : AHEAD)
    ) {
      const stretch = mine.heard?.stretches[mine.stretch];
      const end = Math.min(programme.length, stretch?.until ?? Infinity);
      if (mine.position >= end) {
        if (!nextStretch(mine)) return;
        continue;
      }
      const count = Math.min(mine.chunk, end - mine.position);
      const block = await programme.read(mine.position, count);
      await fadeOver(block, mine.position);
      if (mine !== current) return;
      const ends = mine.position + count >= end;
      if (stretch) {
        if (mine.position === stretch.from) ramp(block, 'in');
        if (ends) ramp(block, 'out');
      }
      send(mine.run, mine.position, block, ends && !hasNextStretch(mine));
      mine.position += count;
      mine.sent += count;
      mine.chunk = Math.min(mine.heard ? LONGEST_CHUNK_OF_STRETCH : LONGEST_CHUNK, 2 * mine.chunk);
    }
  } catch (error) {
    const report: WorkerReport = {
      type: 'failed',
      message: error instanceof Error ? error.message : String(error),
    };
    self.postMessage(report);
  } finally {
    mine.busy = false;
  }
}

const hasNextStretch = ({ heard, stretch }: Run): boolean =>
  heard !== null && (heard.loop || stretch + 1 < heard.stretches.length);

/** Goes to the start of the next stretch; false when there is none. */
function nextStretch(run: Run): boolean {
  if (!run.heard || !hasNextStretch(run)) return false;
  run.stretch = (run.stretch + 1) % run.heard.stretches.length;
  run.position = run.heard.stretches[run.stretch]?.from ?? 0;
  return true;
}

/** After an edit the first samples go over from what would have been heard to what is heard now. */
async function fadeOver(block: Block, position: number): Promise<void> {
  const before = earlier;
  earlier = undefined;
  if (!before) return;
  const count = Math.min(RAMP, block.left.length);
  const old = await before.read(position, count);
  for (let i = 0; i < count; i++) {
    const share = (i + 0.5) / count;
    block.left[i] = share * (block.left[i] ?? 0) + (1 - share) * (old.left[i] ?? 0);
    block.right[i] = share * (block.right[i] ?? 0) + (1 - share) * (old.right[i] ?? 0);
  }
}

/** A short fade at the edge of a stretch. */
function ramp({ left, right }: Block, direction: 'in' | 'out'): void {
  const count = Math.min(RAMP, left.length);
  for (const audio of [left, right])
    applyFade(audio, direction === 'in' ? 0 : count - audio.length, count, 'linear', direction);
}

function send(run: number, position: number, block: Block, last: boolean): void {
  const chunk: AudioChunk = {
    run,
    position,
    left: Float32Array.from(block.left),
    right: Float32Array.from(block.right),
    last,
  };
  line?.postMessage(chunk, [chunk.left.buffer, chunk.right.buffer]);
}

self.onmessage = ({ data }: MessageEvent<WorkerMessage>): void => {
  switch (data.type) {
    case 'line':
      line = data.port;
      line.onmessage = ({ data: demand }: MessageEvent<AudioDemand>) => {
        if (demand.run !== current.run) return;
        current.taken = demand.taken;
        void fill();
      };
      break;
    case 'programme':
      earlier = current.run >= 0 ? programme : undefined;
      programme = build(data.programme);
      void warmUp(programme, data.programme);
      break;
    case 'play':
      earlier = undefined;
      current = idle(data.run, data.from, data.heard);
      void fill();
      break;
    case 'heard':
      current.heard = data.heard;
      current.stretch = Math.min(current.stretch, data.heard.stretches.length - 1);
      void fill();
      break;
    case 'stop':
      current = idle(-1, 0, null);
      break;
    default:
      data satisfies never;
  }
};
