import { LiveMeters } from '@oiseau/audio/measure';
import { ChunkQueue, Sides } from './chunk-queue.js';
import type { AudioChunk, AudioDemand, AudioQuestion, WorkletMessage, WorkletReport } from './protocol.js';

// The audio thread's own globals, which TypeScript's DOM library does not declare.
declare class AudioWorkletProcessor {
  readonly port: MessagePort;
}
declare function registerProcessor(name: string, processor: new () => AudioWorkletProcessor): void;

/** Samples that the audio thread asks for at a time [Web Audio API]. */
const QUANTUM = 128;
const RATE = 44_100;
/** Quanta of 128 samples between two reports of the position: about 23 a second. */
const REPORT_QUANTA = 15;

/** Plays chunks in order. Computes nothing: what it is sent is the programme. */
class PlaybackProcessor extends AudioWorkletProcessor {
  #line: MessagePort | undefined;
  #run = -1;
  readonly #queue = new ChunkQueue();
  readonly #meters = new LiveMeters(RATE);
  /** What was heard of this quantum, for the meters. */
  readonly #heard = { left: new Float64Array(QUANTUM), right: new Float64Array(QUANTUM) };
  /** Quanta that found the queue empty although the programme had not ended. */
  #gaps = 0;
  #quanta = 0;
  #started = false;
  readonly #sides = new Sides();

  constructor() {
    super();
    this.port.onmessage = ({ data }: MessageEvent<WorkletMessage>) => this.#obey(data);
  }

  #obey(message: WorkletMessage): void {
    switch (message.type) {
      case 'line':
        this.#line = message.port;
        this.#line.onmessage = ({ data }: MessageEvent<AudioChunk | AudioQuestion>) => {
          if ('ask' in data) this.#tellWorker(true);
          else if (data.run === this.#run) this.#queue.put(data);
        };
        break;
      case 'run':
        this.#begin(message.run);
        break;
      case 'stop':
        this.#begin(-1);
        break;
      case 'side':
        this.#sides.hear(message.other, message.gains);
        break;
      default:
        message satisfies never;
    }
  }

  #begin(run: number): void {
    this.#run = run;
    this.#queue.clear();
    this.#gaps = 0;
    this.#started = false;
    this.#sides.arrive();
  }

  process(_inputs: Float32Array[][], outputs: Float32Array[][]): boolean {
    const [left, right] = outputs[0] ?? [];
    if (!left || !right || this.#run < 0) return true;
    let filled = 0;
    while (filled < left.length) {
      const next = this.#queue.next(left.length - filled);
      if (!next) {
        if (this.#started) this.#gaps++;
        break;
      }
      this.#started = true;
      const { chunk, offset, count } = next;
      this.#sides.mix(chunk, offset, count, left, right, filled);
      filled += count;
      if (offset + count < chunk.left.length) continue;
      this.#tellWorker(false);
      if (chunk.last) {
        this.#report({ type: 'ended', run: this.#run });
        this.#begin(-1);
        return true;
      }
    }
    this.#heard.left.set(left);
    this.#heard.right.set(right);
    this.#meters.push(this.#heard);
    if (++this.#quanta % REPORT_QUANTA === 0) this.#tell();
    return true;
  }

  #tellWorker(answer: boolean): void {
    const demand: AudioDemand = { run: this.#run, played: this.#queue.played, answer };
    this.#line?.postMessage(demand);
  }

  #tell(): void {
    const position = this.#queue.position;
    if (position === null) return;
    this.#report({
      type: 'position',
      run: this.#run,
      position,
      reading: this.#meters.read(),
      gaps: this.#gaps,
    });
  }

  #report(report: WorkletReport): void {
    this.port.postMessage(report);
  }
}

registerProcessor('playback', PlaybackProcessor);
