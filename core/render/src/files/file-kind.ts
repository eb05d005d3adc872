import type { Message } from '@oiseau/messages';
import type { ByteSource } from '@oiseau/audio/pcm';
import type { PlannedFile } from '../planned.js';
import type { RenderPorts } from '../ports.js';
import type { RenderInput } from '../render-input.js';
import type { ProofTest } from '../proof-file.js';

/** What a writer has at hand. */
export interface WriteContext {
  readonly ports: RenderPorts;
  readonly input: RenderInput;
}

/** What a prover has at hand. */
export interface ProofContext {
  readonly ports: RenderPorts;
  /** Does a piece of work that several files share, once; `key` tells which. */
  once<T>(key: string, work: () => Promise<T>): Promise<T>;
}

/** A kind of planned file that holds no audio: how it is written, proved, and told of in a list. */
export interface FileKind<F extends PlannedFile> {
  words(file: F): Message;
  /** Everything that will stand in it; what was planned before it is written already. */
  bytes(file: F, context: WriteContext): Promise<Uint8Array>;
  /** Reads it back and tests it; it writes nothing. */
  prove(file: F, source: ByteSource, context: ProofContext): Promise<ProofTest[]>;
}
