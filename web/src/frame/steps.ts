import { Files, ListChecks, ListMusic, PackageCheck, Type, Upload, type LucideIcon } from 'lucide-react';

/** The six steps of an album, in the order of the job. */
export const STEPS: readonly { readonly path: string; readonly name: string; readonly icon: LucideIcon }[] = [
  { path: 'masters', name: 'Masters', icon: Files },
  { path: 'sequence', name: 'Sequence', icon: ListMusic },
  { path: 'sleeve', name: 'Sleeve', icon: Type },
  { path: 'checks', name: 'Checks', icon: ListChecks },
  { path: 'render', name: 'Render', icon: Upload },
  { path: 'proof', name: 'Proof', icon: PackageCheck },
];
