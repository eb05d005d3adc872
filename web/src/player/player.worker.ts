import { layOut, Programme, WavSource, type Block } from '@oiseau/core';
import { HttpByteSource } from './http-byte-source.js';
import type { AudioChunk, AudioDemand, PlayerProgramme, WorkerMessage, WorkerReport } from './protocol.js';

/** The disc's rate: what is heard is what the image will hold, before dither. */
const RATE = 44_100;
/** The first chunk is short, so that sound starts at once; the others are a second long. */
const FIRST_CHUNK = 588 * 6;
const CHUNK = 588 * 75;
/** Samples computed ahead of what has been heard. */
const AHEAD = RATE * 4;

/** Byte sources outlive programmes: after an edit the same masters are still at hand. */
const files = new Map<string, HttpByteSource>();
let programme: Programme | undefined;
let line: MessagePort | undefined;
let current = { run: -1, sent: 0, taken: 0, position: 0, busy: false };

function build({ sequence, masters }: PlayerProgramme): Programme {
  const sources = masters.map(({ url, bytes, info }) => {
    const file = files.get(url) ?? new HttpByteSource(url, bytes);
    files.set(url, file);
    return WavSource.of(info, file);
  });
  return new Programme(sequence, layOut(sequence), sources, RATE);
}

/** Computes chunks until enough lies ahead or the programme ends. */
async function fill(): Promise<void> {
  const mine = current;
  const playing = programme;
  if (!playing || mine.busy || mine.run < 0) return;
  mine.busy = true;
  try {
    while (mine === current && mine.position < playing.length && mine.sent - mine.taken < AHEAD) {
      const count = Math.min(mine.sent === 0 ? FIRST_CHUNK : CHUNK, playing.length - mine.position);
      const block = await playing.read(mine.position, count);
      if (mine !== current) return;
      send(mine.run, mine.position, block, mine.position + count >= playing.length);
      mine.position += count;
      mine.sent += count;
    }
  } catch (error) {
    const report: WorkerReport = { type: 'failed', message: error instanceof Error ? error.message : String(error) };
    self.postMessage(report);
  } finally {
    mine.busy = false;
  }
}

function send(run: number, position: number, block: Block, last: boolean): void {
  const chunk: AudioChunk = { run, position, left: Float32Array.from(block.left), right: Float32Array.from(block.right), last };
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
      break;
    case 'play':
      current = { run: data.run, sent: 0, taken: 0, position: data.from, busy: false };
      void fill();
      break;
    case 'stop':
      current = { ...current, run: -1 };
      break;
    default:
      data satisfies never;
  }
};
