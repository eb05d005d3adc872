import { isUntreated } from '@oiseau/audio/stages';
import { LoudnessMeter } from '@oiseau/audio/measure';
import { pcmFileBytes, PcmFileSource } from '@oiseau/audio/pcm';
import { Programme } from '@oiseau/render';
import { samples, type Interval, type Samples } from '@oiseau/audio/time';
import { soundKey } from '@oiseau/album/model';
import { Feed, FIRST_CHUNK, type Programmes } from './feed.js';
import { songsOfRates } from './warm-up.js';
import { HttpByteSource } from './http-byte-source.js';
import type { AudioDemand, AudioQuestion, PlayerProgramme, WorkerMessage, WorkerReport } from './protocol.js';

/** The disc's rate: what is heard is what the image will hold, before dither. */
const RATE = 44_100;
/** Samples computed ahead of what has been heard. */
const AHEAD = RATE * 4;
/** An edit takes over so many samples after the one that is heard when it comes: time enough to compute the first of it. */
const TAKES_OVER_AFTER = Math.round(RATE * 0.06);

/** Sources outlive programmes: after an edit the same masters are still at hand, and one master is one source. */
const sources = new Map<string, PcmFileSource>();
let programmes: Programmes | undefined;
/** Those that are exact wherever one begins, once there is time for it. */
let exact: (() => Programmes) | undefined;
let line: MessagePort | undefined;
/** What is being played, and how much of it was. */
let current: { readonly feed: Feed; played: number; busy: boolean } | null = null;
/** An edit waits for the audio thread to say where it is. */
let takingOver = false;
/** What came meanwhile, the newest of each kind. */
const waiting = new Map<'programme' | 'heard', () => void>();
/** What is heard instead, as long as it is the same. */
let lastOther: { readonly key: string; readonly programme: Programme } | undefined;

function open({ masters }: PlayerProgramme): Map<string, PcmFileSource> {
  return new Map(
    [...masters].map(([key, { url, info }]) => {
      const source = sources.get(url) ?? new PcmFileSource(info, new HttpByteSource(url, pcmFileBytes(info)));
      sources.set(url, source);
      return [key, source] as const;
    }),
  );
}

/** @param soon begun from rest shortly before the place where reading begins */
function build(given: PlayerProgramme, soon: boolean): Programmes {
  const opened = open(given);
  const own = new Programme(given.sequence, opened, RATE, { soon });
  const { other } = given;
  if (!other) return { own, other: null };
  const key = JSON.stringify([soon, soundKey(other)]);
  // A curve that is dragged leaves it as it is.
  lastOther =
    lastOther?.key === key ? lastOther : { key, programme: new Programme(other, opened, RATE, { soon }) };
  return { own, other: lastOther.programme };
}

const isTreated = ({ sequence }: PlayerProgramme): boolean =>
  !isUntreated(sequence.sound) || sequence.songs.some(({ region }) => !isUntreated(region.sound));

/**
 * Computes a moment of each rate that the album has, and throws it away: the filters are designed and the code is warm
 * before Play is pressed.
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
    while (mine === current && mine.feed.time - mine.played < AHEAD) {
      const chunk = await mine.feed.next();
      if (!chunk || mine !== current) return;
      const audio = [chunk, ...(chunk.other ? [chunk.other] : [])];
      line?.postMessage(
        chunk,
        audio.flatMap(({ left, right }) => [left.buffer, right.buffer]),
      );
    }
    // Enough lies ahead: from here on every sample is what is rendered, to the last bit.
    if (mine === current && exact) {
      mine.feed.use((programmes = exact()));
      exact = undefined;
    }
  } catch (error) {
    report({ type: 'failed', message: error instanceof Error ? error.message : String(error) });
  } finally {
    mine.busy = false;
  }
}

const report = (words: WorkerReport): void => self.postMessage(words);

/** Lets an edit be heard a moment after what is heard now. */
function takeOver(kind: 'programme' | 'heard', edit: () => void): void {
  if (!current) return edit();
  // Of edits that come faster than they can be computed only the last is heard.
  waiting.set(kind, edit);
  if (takingOver) return;
  takingOver = true;
  line?.postMessage({ ask: current.feed.run } satisfies AudioQuestion);
}

function answered({ played }: AudioDemand): void {
  takingOver = false;
  takeWaiting();
  current?.feed.goBackTo(played + TAKES_OVER_AFTER);
}

function takeWaiting(): void {
  const edits = [...waiting.values()];
  waiting.clear();
  for (const edit of edits) edit();
}

/** How loud both are over a stretch. */
async function match(number: number, { start, end }: Interval<Samples>): Promise<void> {
  const both = programmes;
  if (!both) return;
  const loudnessOf = async (programme: Programme): Promise<number | null> => {
    const meter = new LoudnessMeter(RATE);
    for (let at = start; at < end; at = samples(at + MATCHED_AT_A_TIME))
      meter.push(await programme.read(at, Math.min(MATCHED_AT_A_TIME, end - at)));
    return meter.result().integratedLufs;
  };
  const own = await loudnessOf(both.own);
  report({ type: 'matched', number, own, other: both.other ? await loudnessOf(both.other) : own });
}
const MATCHED_AT_A_TIME = 588 * 25;

function begin(given: PlayerProgramme, soon: boolean): void {
  const built = build(given, soon || isTreated(given));
  exact = isTreated(given) && !soon ? () => build(given, false) : undefined;
  programmes = built;
  current?.feed.use(built);
  if (!current) void warmUp(built.own, given);
}

self.onmessage = ({ data }: MessageEvent<WorkerMessage>): void => {
  switch (data.type) {
    case 'line':
      line = data.port;
      line.onmessage = ({ data: demand }: MessageEvent<AudioDemand>) => {
        if (demand.run === current?.feed.run) current.played = demand.played;
        if (demand.answer) answered(demand);
        void fill();
      };
      break;
    case 'programme':
      takeOver('programme', () => begin(data.programme, data.soon));
      break;
    case 'play':
      takeWaiting();
      if (!programmes) break;
      current = { feed: new Feed(data.run, data.from, programmes, data.heard), played: 0, busy: false };
      void fill();
      break;
    case 'heard':
      takeOver('heard', () => current?.feed.hearInstead(data.heard));
      break;
    case 'match':
      match(data.number, data.stretch).catch((error: unknown) =>
        report({ type: 'failed', message: error instanceof Error ? error.message : String(error) }),
      );
      break;
    case 'stop':
      current = null;
      takingOver = false;
      takeWaiting();
      break;
    default:
      data satisfies never;
  }
};
