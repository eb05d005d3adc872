import type { Album } from '../album/album.js';
import type { MasterFacts } from '../album/resolve.js';
import type { Layout, Sequence } from '../album/sequence.js';
import type { Frames, Ticks } from '../time/ticks.js';

/** error: this can't be pressed · warning: somebody will ask · hint: worth a look. */
export type Severity = 'error' | 'warning' | 'hint';

/** What a rule found: figures, no sentence. `track` counts from 0; −1 is the hidden song. */
export type Finding = { readonly severity: Severity } & (
  | { readonly code: 'no-tracks' }
  | { readonly code: 'too-many-tracks'; readonly count: number }
  | {
      readonly code: 'region-outside-master';
      readonly track: number;
      readonly out: Ticks;
      readonly masterLength: Ticks;
    }
  | { readonly code: 'region-empty'; readonly track: number }
  | { readonly code: 'fades-too-long'; readonly track: number; readonly fades: Ticks; readonly region: Ticks }
  | { readonly code: 'overlap-over-two'; readonly track: number }
  | { readonly code: 'first-pause-short'; readonly pause: Ticks }
  | { readonly code: 'track-short'; readonly track: number; readonly length: Frames }
  | { readonly code: 'index-outside-track'; readonly track: number; readonly index: number }
  | { readonly code: 'disc-too-long'; readonly leadOut: Frames }
  | { readonly code: 'isrc-malformed'; readonly track: number; readonly text: string }
  | { readonly code: 'isrc-double'; readonly track: number; readonly first: number; readonly isrc: string }
  | { readonly code: 'upc-malformed'; readonly text: string }
  | { readonly code: 'title-empty'; readonly track: number }
  | { readonly code: 'album-title-empty' }
);
export type CheckCode = Finding['code'];

/** What the rules may look at. */
export interface CheckSubject {
  readonly album: Album;
  readonly sequence: Sequence;
  readonly layout: Layout;
  readonly masters: ReadonlyMap<string, MasterFacts>;
}

export type Rule = (subject: CheckSubject) => Finding[];
