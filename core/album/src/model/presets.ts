import { deliverableSchema, type Deliverable } from './deliverable.js';

const shipped = (name: string, settings: object): Deliverable =>
  deliverableSchema.parse({ name, ...settings });

/** Export presets that ship with Oiseau, the same on the Shelf and on the command line. */
export const SHIPPED_PRESETS: readonly Deliverable[] = [
  shipped('plant', { kind: 'ddp', dither: 'shaped' }),
  shipped('disc image', { kind: 'cue', dither: 'shaped' }),
  shipped('Store files 24-bit', { kind: 'tracks', format: 'flac', bits: 24 }),
  shipped('Video 48 kHz', { kind: 'tracks', format: 'wav', bits: 24, rate: 48_000 }),
  shipped('reference', { kind: 'tracks', format: 'mp3' }),
  shipped('Sharing copies', { kind: 'continuous', format: 'm4a' }),
  shipped('whole album', { kind: 'continuous', format: 'flac', bits: 24 }),
  shipped('Listening copies', { kind: 'listening' }),
  shipped('Store package', { kind: 'package' }),
  shipped('cutting room', { kind: 'cutting-room' }),
  shipped('archive float', { kind: 'tracks', format: 'wav', bits: 'float' }),
];
