import { pcmFileBytes, PcmFileSource, Programme } from '@oiseau/core';
import { Feed, FIRST_CHUNK } from './feed.js';
import { songsOfRates } from './warm-up.js';
import { HttpByteSource } from './http-byte-source.js';
import type { AudioDemand, PlayerProgramme, WorkerMessage, WorkerReport } from './protocol.js';

/** The disc's rate: what is heard is what the image will hold, before dither. */
const RATE = 44_100;
/** Samples computed ahead of what has been heard; fewer while single stretches are heard, so that an edit is heard soon. */
const AHEAD = RATE * 4;
const AHEAD_OF_STRETCH = Math.round(RATE * 0.35);

/** Sources outlive programmes: after an edit the same masters are still at hand, and one master is one source. */
const sources = new Map<string, PcmFileSource>();
let programme: Programme | undefined;
let line: MessagePort | undefined;
/** What is being played, and how much of it is on its way. */
let current: { readonly feed: Feed; sent: number; taken: number; busy: boolean } | null = null;

function build({ sequence, masters }: PlayerProgramme): Programme {
  const opened = new Map(
    [...masters].map(([key, { url, info }]) => {
      const source = sources.get(url) ?? new PcmFileSource(info, new HttpByteSource(url, pcmFileBytes(info)));
      sources.set(url, source);
      return [key, source] as const;
    }),
  );
  return new Programme(sequence, opened, RATE);
}

/**
 * Computes a moment of each rate that the album has, and throws it away: the filters are designed and the code is warm
 * before somebody presses play.
 */
async function warmUp(of: Programme, { sequence, masters }: PlayerProgramme): Promise<void> {
  for (const { start } of songsOfRates(sequence, masters, of.placement).values())
    await of.read(of.at(start), FIRST_CHUNK).catch(() => undefined);
}

/** Computes chunks until enough lies ahead or everything has been sent. */
async function fill(): Promise<void> {
  const mine = current;
  if (!mine || mine.busy) return;
  mine.busy = true;
  try {
    while (mine === current && mine.sent - mine.taken < (mine.feed.ofStretches ? AHEAD_OF_STRETCH : AHEAD)) {
      const chunk = await mine.feed.next();
      if (!chunk || mine !== current) return;
      mine.sent += chunk.left.length;
      line?.postMessage(chunk, [chunk.left.buffer, chunk.right.buffer]);
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

self.onmessage = ({ data }: MessageEvent<WorkerMessage>): void => {
  switch (data.type) {
    case 'line':
      line = data.port;
      line.onmessage = ({ data: demand }: MessageEvent<AudioDemand>) => {
        if (demand.run !== current?.feed.run) return;
        current.taken = demand.taken;
        void fill();
      };
      break;
    case 'programme':
      programme = build(data.programme);
      current?.feed.use(programme);
      if (!current) void warmUp(programme, data.programme);
      break;
    case 'play':
      if (!programme) break;
      current = {
        feed: new Feed(data.run, data.from, programme, data.heard),
        sent: 0,
        taken: 0,
        busy: false,
      };
      void fill();
      break;
    case 'heard':
      current?.feed.hearInstead(data.heard);
      void fill();
      break;
    case 'stop':
      current = null;
      break;
    default:
      data satisfies never;
  }
};
