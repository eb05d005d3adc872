import { LiveMeters } from '@oiseau/core';
import type { AudioChunk, WorkletMessage, WorkletReport } from './protocol.js';

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
  #queue: AudioChunk[] = [];
  #offset = 0;
  #taken = 0;
  readonly #meters = new LiveMeters(RATE);
  /** What was heard of this quantum, for the meters. */
  readonly #heard = { left: new Float64Array(QUANTUM), right: new Float64Array(QUANTUM) };
  /** Quanta that found the queue empty although the programme had not ended. */
  #gaps = 0;
  #quanta = 0;
  #started = false;

  constructor() {
    super();
    this.port.onmessage = ({ data }: MessageEvent<WorkletMessage>) => this.#obey(data);
  }

  #obey(message: WorkletMessage): void {
    switch (message.type) {
      case 'line':
        this.#line = message.port;
        this.#line.onmessage = ({ data }: MessageEvent<AudioChunk>) => {
          if (data.run === this.#run) this.#queue.push(data);
        };
        break;
      case 'run':
        this.#begin(message.run);
        break;
      case 'stop':
        this.#begin(-1);
        break;
      default:
        message satisfies never;
    }
  }

  #begin(run: number): void {
    this.#run = run;
    this.#queue = [];
    this.#offset = 0;
    this.#taken = 0;
    this.#gaps = 0;
    this.#started = false;
  }

  process(_inputs: Float32Array[][], outputs: Float32Array[][]): boolean {
    const [left, right] = outputs[0] ?? [];
    if (!left || !right || this.#run < 0) return true;
    let filled = 0;
    while (filled < left.length) {
      const chunk = this.#queue[0];
      if (!chunk) {
        if (this.#started) this.#gaps++;
        break;
      }
      this.#started = true;
      const count = Math.min(left.length - filled, chunk.left.length - this.#offset);
      for (let i = 0; i < count; i++) {
        left[filled + i] = chunk.left[this.#offset + i] ?? 0;
        right[filled + i] = chunk.right[this.#offset + i] ?? 0;
      }
      filled += count;
      this.#offset += count;
      if (this.#offset < chunk.left.length) continue;
      this.#queue.shift();
      this.#taken += chunk.left.length;
      this.#offset = 0;
      this.#line?.postMessage({ run: this.#run, taken: this.#taken });
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

  #tell(): void {
    const chunk = this.#queue[0];
    if (!chunk) return;
    this.#report({
      type: 'position',
      run: this.#run,
      position: chunk.position + this.#offset,
      reading: this.#meters.read(),
      gaps: this.#gaps,
    });
  }

  #report(report: WorkletReport): void {
    this.port.postMessage(report);
  }
}

registerProcessor('playback', PlaybackProcessor);
