import type { Interval, Samples } from '@oiseau/audio/time';
import type { LiveReading } from '@oiseau/audio/measure';
import { HeardClock } from './heard-clock.js';
import workletUrl from './playback.worklet.ts?worker&url';
import type {
  Gains,
  Heard,
  MatchedLoudness,
  PlayerProgramme,
  WorkerMessage,
  WorkerReport,
  WorkletMessage,
  WorkletReport,
} from './protocol.js';
import { t } from '../ui/messages.js';

/** Samples a second of the programme that is heard. */
export const PLAYER_RATE = 44_100;

export interface PlayerState {
  readonly playing: boolean;
  /** Sample of the programme that is heard, or would be when play is pressed. */
  readonly position: number;
  /** What the meters show; null while nothing sounds. */
  readonly reading: LiveReading | null;
  /** Highest peaks since play was pressed, linear. */
  readonly highestSamplePeak: number;
  readonly highestTruePeak: number;
  /** Times that the sound ran dry since play was pressed. */
  readonly gaps: number;
  /** Single stretches are heard, not the programme to its end. */
  readonly hearing: boolean;
  /** What is heard is the other of the two programmes. */
  readonly other: boolean;
  /** How often something was begun to be played. */
  readonly starts: number;
  /** Why nothing can be heard. */
  readonly failure: string | null;
}

const SILENT: PlayerState = {
  playing: false,
  position: 0,
  reading: null,
  highestSamplePeak: 0,
  highestTruePeak: 0,
  gaps: 0,
  hearing: false,
  other: false,
  starts: 0,
  failure: null,
};

/** The audio machinery. It is made ahead of the first press, and sounds only after one, as browsers ask. */
interface Machine {
  readonly context: AudioContext;
  readonly worker: Worker;
  readonly worklet: AudioWorkletNode;
  readonly level: GainNode;
}

/** What some browsers can do with a context, and TypeScript does not know. */
type SinkContext = AudioContext & { setSinkId?: (device: string) => Promise<void> };
/** Whether this browser can play through a device of one’s choice. */
export const canChooseOutput = (): boolean =>
  'AudioContext' in window && 'setSinkId' in AudioContext.prototype;
const setSink = async (context: SinkContext, device: string): Promise<void> =>
  device === '' && !context.setSinkId ? undefined : context.setSinkId?.(device);

/**
 * Plays the programme: a worker computes it with the core, an audio worklet plays it. Outside React; views subscribe.
 */
export class Player {
  #state = SILENT;
  #machine: Promise<Machine> | undefined;
  #programme: PlayerProgramme | undefined;
  #sentProgramme: PlayerProgramme | undefined;
  #soon = false;
  #preparing: ReturnType<typeof setTimeout> | undefined;
  #side: { readonly other: boolean; readonly gains: Gains } = { other: false, gains: { own: 1, other: 1 } };
  #volume = 1;
  /** The device that it plays through; empty: as the system has it. */
  #output = '';
  #matches = 0;
  readonly #matching = new Map<number, (loudness: MatchedLoudness) => void>();
  #run = 0;
  /** Is called before anything is played: the time to set what is to be heard. */
  onStart: (() => void) | undefined;
  /** Is called when the programme was played to its end. */
  onEnd: (() => void) | undefined;
  /** Is called when the device that was chosen can’t be played through, and the system’s own is. */
  onOutputLost: (() => void) | undefined;
  readonly #clock = new HeardClock();
  /** By how much later than it is played the sound is heard, ms. */
  #latencyMs = 0;
  readonly #listeners = new Set<() => void>();

  get state(): PlayerState {
    return this.#state;
  }

  subscribe = (listener: () => void): (() => void) => {
    this.#listeners.add(listener);
    return () => this.#listeners.delete(listener);
  };

  #set(change: Partial<PlayerState>): void {
    this.#state = { ...this.#state, ...change };
    this.#listeners.forEach((listener) => listener());
  }

  /**
   * Sets what is played from now on. While playing, the edit is heard a moment later, from the place that is being heard. The worker is told in
   * a task of its own, so that what shows the edit can be drawn before.
   * @param soon something is dragged, and is to be heard at once
   */
  setProgramme(programme: PlayerProgramme, soon = false): void {
    this.#programme = programme;
    this.#soon = soon;
    clearTimeout(this.#preparing);
    const prepare = (): void => void this.#prepare().catch(() => undefined);
    if (soon) prepare();
    else this.#preparing = setTimeout(prepare);
  }

  /**
   * Which of both programmes is heard, from this moment on.
   * @param gains by how much each is turned down, linear, so that neither is louder
   */
  hearOther(other: boolean, gains: Gains): void {
    this.#side = { other, gains };
    this.#set({ other });
    void this.#machine?.then((machine) => this.#tellWorklet(machine, { type: 'side', ...this.#side }));
  }

  /** Plays through another device from now on; empty: as the system has it. @throws where the browser can't use it */
  async setOutput(device: string): Promise<void> {
    this.#output = device;
    const machine = await this.#machine?.catch(() => undefined);
    if (machine) await setSink(machine.context, device);
  }

  /** How loud both programmes are over a stretch. */
  async match(stretch: Interval<Samples>): Promise<MatchedLoudness> {
    const machine = await this.#prepare();
    const number = ++this.#matches;
    return new Promise((resolve) => {
      this.#matching.set(number, resolve);
      this.#tellWorker(machine, { type: 'match', number, stretch });
    });
  }

  /** The machine, holding the newest programme. @throws when this browser can't play */
  async #prepare(): Promise<Machine> {
    this.#machine ??= this.#build();
    const machine = await this.#machine.catch((error: unknown) => {
      this.#machine = undefined;
      throw error;
    });
    const programme = this.#programme;
    if (programme && this.#sentProgramme !== programme) {
      this.#tellWorker(machine, { type: 'programme', programme, soon: this.#soon });
      this.#sentProgramme = programme;
    }
    return machine;
  }

  /** The sample that is heard at this very moment: finer than the state, which is told some twenty times a second. */
  heardNow(): number {
    const { playing, position, reading } = this.#state;
    if (!playing || !reading) return position;
    const placeMs = this.#clock.placeAt(performance.now() - this.#latencyMs);
    return placeMs === null ? position : Math.max(0, (placeMs / 1000) * PLAYER_RATE);
  }

  /** How loud it is played, linear; meters show what is played before that. */
  setVolume(volume: number): void {
    this.#volume = volume;
    void this.#machine?.then(({ level, context }) =>
      level.gain.setTargetAtTime(volume, context.currentTime, 0.02),
    );
  }

  /** Starts at a sample of the programme. */
  play(from: number): Promise<void> {
    return this.#start(from, null);
  }

  /** Plays stretches of the programme one after the other, over and over again when asked. */
  hear(heard: Heard): Promise<void> {
    return this.#start(heard.stretches[0]?.start ?? 0, heard);
  }

  /** Moves the stretches that are being heard, without a restart: after an edit they lie elsewhere. */
  hearInstead(heard: Heard): void {
    if (!this.#state.hearing) return;
    void this.#prepare().then((machine) => this.#tellWorker(machine, { type: 'heard', heard }));
  }

  async #start(from: number, heard: Heard | null): Promise<void> {
    this.onStart?.();
    if (!this.#programme?.masters.size) return;
    const run = ++this.#run;
    this.#clock.reset();
    const position = Math.max(0, Math.round(from));
    const { highestSamplePeak, highestTruePeak } = SILENT;
    this.#set({
      ...{ playing: true, hearing: heard !== null, position, gaps: 0, failure: null },
      starts: this.#state.starts + 1,
      ...{ highestSamplePeak, highestTruePeak },
    });
    try {
      const machine = await this.#prepare();
      await machine.context.resume();
      if (run !== this.#run) return;
      this.#tellWorklet(machine, { type: 'run', run });
      this.#tellWorker(machine, { type: 'play', run, from: position, heard });
    } catch (error) {
      this.#machine = undefined;
      this.#set({
        playing: false,
        hearing: false,
        failure: t('Playback failed: {reason}', {
          reason: error instanceof Error ? error.message : String(error),
        }),
      });
    }
  }

  /** Stops and stays where it is. */
  stop(): void {
    this.#run++;
    this.#set({ playing: false, hearing: false, reading: null });
    void this.#machine?.then((machine) => {
      this.#tellWorklet(machine, { type: 'stop' });
      this.#tellWorker(machine, { type: 'stop' });
    });
  }

  toggle(): void {
    if (this.#state.playing) this.stop();
    else void this.play(this.#state.position);
  }

  /** Moves to a sample of the programme; goes on playing if it did. */
  seek(to: number): void {
    if (this.#state.playing) void this.play(to);
    else this.#set({ position: Math.max(0, Math.round(to)) });
  }

  async close(): Promise<void> {
    clearTimeout(this.#preparing);
    this.stop();
    const machine = await this.#machine?.catch(() => undefined);
    this.#machine = undefined;
    machine?.worker.terminate();
    await machine?.context.close();
  }

  async #build(): Promise<Machine> {
    const context = new AudioContext({ sampleRate: PLAYER_RATE, latencyHint: 'interactive' });
    // Browsers offer it in secure contexts only.
    if (!window.isSecureContext)
      throw new Error(t('browsers allow this playback only over https or on the machine itself.'));
    await context.audioWorklet.addModule(workletUrl);
    const worklet = new AudioWorkletNode(context, 'playback', { numberOfInputs: 0, outputChannelCount: [2] });
    const level = context.createGain();
    level.gain.value = this.#volume;
    worklet.connect(level).connect(context.destination);
    const worker = new Worker(new URL('./player.worker.ts', import.meta.url), { type: 'module' });
    const { port1, port2 } = new MessageChannel();
    // A device that is gone is no reason to play nothing.
    await setSink(context, this.#output).catch(() => {
      this.#output = '';
      this.onOutputLost?.();
    });
    const machine = { context, worker, worklet, level };
    worker.postMessage({ type: 'line', port: port1 } satisfies WorkerMessage, [port1]);
    worklet.port.postMessage({ type: 'line', port: port2 } satisfies WorkletMessage, [port2]);
    worklet.port.onmessage = ({ data }: MessageEvent<WorkletReport>) => {
      this.#latencyMs = 1000 * context.outputLatency;
      this.#hear(data, performance.now());
    };
    worker.onmessage = ({ data }: MessageEvent<WorkerReport>) => {
      if (data.type === 'matched') {
        this.#matching.get(data.number)?.(data);
        this.#matching.delete(data.number);
        return;
      }
      this.stop();
      this.#set({ failure: data.message });
    };
    this.#tellWorklet(machine, { type: 'side', ...this.#side });
    this.#sentProgramme = undefined;
    return machine;
  }

  #hear(report: WorkletReport, nowMs: number): void {
    if (report.run !== this.#run) return;
    if (report.type === 'ended') {
      // The programme starts anew; after single stretches the mark stays at their end.
      const whole = !this.#state.hearing;
      const position = whole ? 0 : this.#state.position;
      this.#set({ playing: false, hearing: false, position, reading: null });
      if (whole) this.onEnd?.();
    } else {
      const { position, reading, gaps } = report;
      this.#clock.report((1000 * position) / PLAYER_RATE, nowMs);
      const highestSamplePeak = Math.max(this.#state.highestSamplePeak, reading.samplePeak);
      // The true peak comes a little later than the samples it lies between; it is never lower than they are.
      const highestTruePeak = Math.max(this.#state.highestTruePeak, reading.truePeak, highestSamplePeak);
      this.#set({ position, reading, gaps, highestSamplePeak, highestTruePeak });
    }
  }

  #tellWorker({ worker }: Machine, message: WorkerMessage): void {
    worker.postMessage(message);
  }
  #tellWorklet({ worklet }: Machine, message: WorkletMessage): void {
    worklet.port.postMessage(message);
  }
}
