import type { Right } from '@oiseau/api';
import {
  AudioLines,
  Files,
  ListChecks,
  ListMusic,
  PackageCheck,
  Send,
  Type,
  Upload,
  type LucideIcon,
} from 'lucide-react';

interface Step {
  readonly path: string;
  readonly name: string;
  readonly icon: LucideIcon;
  /** Whose step it is. */
  readonly right: Right;
}

/** The steps of an album, in the order of the job. */
export const STEPS: readonly Step[] = [
  { path: 'masters', name: 'Masters', icon: Files, right: 'work' },
  { path: 'sequence', name: 'Sequence', icon: ListMusic, right: 'work' },
  { path: 'sound', name: 'Sound', icon: AudioLines, right: 'work' },
  { path: 'sleeve', name: 'Sleeve', icon: Type, right: 'work' },
  { path: 'checks', name: 'Checks', icon: ListChecks, right: 'work' },
  { path: 'render', name: 'Render', icon: Upload, right: 'work' },
  { path: 'proof', name: 'Proof', icon: PackageCheck, right: 'listen' },
  { path: 'handover', name: 'Handover', icon: Send, right: 'work' },
];
