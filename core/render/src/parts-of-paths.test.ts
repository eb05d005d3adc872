import { expect, it } from 'vitest';
import { partOfPath } from './kinds/kind.js';

it.each([
  ['disc-1/01 Lamp.wav', 'disc-1'],
  ['side-AB/x.flac', 'side-AB'],
  ['whole-disc-11.flac', 'disc-11'],
  ['whole-side-A.cue', 'side-A'],
  ['side-B.wav', 'side-B'],
  ['side-sheet.csv', null],
  ['cutting-sheet.pdf', null],
  ['image.wav', null],
  ['02 My disc-1 song.wav', null],
])('%s belongs to %s', (path, part) => expect(partOfPath(path)).toBe(part));
