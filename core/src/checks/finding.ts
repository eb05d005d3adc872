import type { Album } from '../album/album.js';
import type { CdTextField } from '../album/text-fields.js';
import type { MasterFacts } from '../album/resolve.js';
import type { Layout, Sequence } from '../album/sequence.js';
import type { Frames, Ticks } from '../time/ticks.js';
import type { DoubtSubject } from './master-doubts.js';

/** error: this can't be pressed · warning: somebody will ask · hint: worth a look. */
export type Severity = 'error' | 'warning' | 'hint';

/** What a rule found: figures, no sentence. `track` counts from 0; −1 is the hidden song, null the album. */
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
  | { readonly code: 'upc-missing' }
  | { readonly code: 'isrc-missing'; readonly track: number }
  | { readonly code: 'isrc-all-missing' }
  | { readonly code: 'title-like-file'; readonly track: number; readonly text: string; readonly tidy: string }
  | {
      readonly code: 'stray-blanks';
      readonly track: number | null;
      readonly field: TextName;
      readonly text: string;
    }
  | {
      readonly code: 'cd-text-unfit';
      readonly track: number | null;
      readonly field: CdTextField;
      readonly block: number;
      readonly chars: string;
      readonly plain: string;
    }
  | { readonly code: 'cd-text-too-long'; readonly block: number; readonly packs: number }
  | { readonly code: 'mark-in-song-before'; readonly track: number; readonly by: Ticks }
  | { readonly code: 'cut-off'; readonly track: number; readonly end: 'head' | 'tail' }
  | {
      readonly code: 'long-silence';
      readonly track: number;
      readonly end: 'head' | 'tail';
      readonly seconds: number;
    }
  | { readonly code: 'clipped'; readonly track: number; readonly runs: number }
  | { readonly code: 'over-full-scale'; readonly track: number; readonly peakDbfs: number }
  | { readonly code: 'lossy-master'; readonly track: number; readonly codec: string }
  | { readonly code: 'dithered-again'; readonly track: number; readonly why: string }
  | { readonly code: 'channels-inverted'; readonly track: number; readonly correlation: number }
  | { readonly code: 'one-sided'; readonly track: number }
  | { readonly code: 'loudness-apart'; readonly track: number; readonly lufs: number; readonly by: number }
  | { readonly code: 'rates-differ'; readonly rates: readonly number[] }
  | { readonly code: 'masters-unused'; readonly count: number }
  | { readonly code: 'cover-small'; readonly width: number; readonly height: number }
  | { readonly code: 'cover-not-square'; readonly width: number; readonly height: number }
  | { readonly code: 'cover-colours'; readonly space: string }
  | { readonly code: 'cover-see-through' }
  | { readonly code: 'cover-heavy'; readonly bytes: number }
  | {
      readonly code: 'lossy-peak';
      readonly track: number;
      readonly deliverable: string;
      readonly peakDbtp: number;
    }
  | { readonly code: 'section-empty'; readonly deliverable: string }
  | { readonly code: 'names-alike'; readonly deliverable: string; readonly name: string }
);
/** Fields of words that a person types. */
export type TextName = CdTextField | 'lyricist' | 'publisher' | 'label' | 'genre' | 'copyright' | 'phonogram';
export type CheckCode = Finding['code'];

/** What is known of a master; `replaces` is the id of the older version that it stands for. */
export type MasterDetail = DoubtSubject & { readonly replaces?: string | null };

/** A picture as its file describes it. */
export interface CoverFacts {
  readonly width: number;
  readonly height: number;
  readonly format: 'jpeg' | 'png';
  /** `srgb`, `cmyk`, `b-w` … */
  readonly space: string;
  readonly channels: number;
  readonly hasAlpha: boolean;
  readonly bytes: number;
}

/** What the rules may look at. */
export interface CheckSubject {
  readonly album: Album;
  readonly sequence: Sequence;
  readonly layout: Layout;
  readonly masters: ReadonlyMap<string, MasterFacts>;
  /** What was measured of every master of the album, where it is known; rules that need it find nothing without. */
  readonly details?: ReadonlyMap<string, MasterDetail>;
  /** Of the album's picture, where it is known. */
  readonly cover?: CoverFacts | null;
}

export type Rule = (subject: CheckSubject) => Finding[];
