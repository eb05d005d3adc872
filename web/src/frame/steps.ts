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
import { t } from '../ui/messages.js';

interface Step {
  readonly path: string;
  readonly name: string;
  readonly icon: LucideIcon;
  /** Whose step it is. */
  readonly right: Right;
}

/** The steps of an album, in the order of the job. */
export const STEPS: readonly Step[] = [
  { path: 'masters', name: t('Masters'), icon: Files, right: 'work' },
  { path: 'sequence', name: t('Sequence'), icon: ListMusic, right: 'work' },
  { path: 'sound', name: t('Sound'), icon: AudioLines, right: 'work' },
  { path: 'sleeve', name: t('Sleeve'), icon: Type, right: 'work' },
  { path: 'checks', name: t('Checks'), icon: ListChecks, right: 'work' },
  { path: 'render', name: t('Render'), icon: Upload, right: 'work' },
  { path: 'proof', name: t('Proof'), icon: PackageCheck, right: 'listen' },
  { path: 'handover', name: t('Handover'), icon: Send, right: 'work' },
];
