import { layOut, pcmFileBytes, PcmFileSource, Programme, type Block } from '@oiseau/core';
import { HttpByteSource } from './http-byte-source.js';
import type { AudioChunk, AudioDemand, PlayerProgramme, WorkerMessage, WorkerReport } from './protocol.js';

/** The disc's rate: what is heard is what the image will hold, before dither. */
const RATE = 44_100;
/**
 * The first chunk is short, so that sound starts at once; each one after it is twice as long, up to a second, so that
 * it is ready before the one before has been heard.
 */
const FIRST_CHUNK = 588 * 5;
const LONGEST_CHUNK = 588 * 75;
/** Samples computed ahead of what has been heard. */
const AHEAD = RATE * 4;

/** Sources outlive programmes: after an edit the same masters are still at hand, and one master is one source. */
const sources = new Map<string, PcmFileSource>();
let programme: Programme | undefined;
let line: MessagePort | undefined;
let current = { run: -1, sent: 0, taken: 0, position: 0, chunk: FIRST_CHUNK, busy: false };

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
  const playing = programme;
  if (!playing || mine.busy || mine.run < 0) return;
  mine.busy = true;
  try {
    while (mine === current && mine.position < playing.length && mine.sent - mine.taken < AHEAD) {
      const count = Math.min(mine.chunk, playing.length - mine.position);
      const block = await playing.read(mine.position, count);
      if (mine !== current) return;
      send(mine.run, mine.position, block, mine.position + count >= playing.length);
      mine.position += count;
      mine.sent += count;
      mine.chunk = Math.min(LONGEST_CHUNK, 2 * mine.chunk);
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
      programme = build(data.programme);
      void warmUp(programme, data.programme);
      break;
    case 'play':
      current = { run: data.run, sent: 0, taken: 0, position: data.from, chunk: FIRST_CHUNK, busy: false };
      void fill();
      break;
    case 'stop':
      current = { ...current, run: -1 };
      break;
    default:
      data satisfies never;
  }
};
