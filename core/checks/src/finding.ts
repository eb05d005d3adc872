import type { Message } from '@oiseau/messages';
import type { Album, CdTextField, MasterFactsByKey } from '@oiseau/album/model';
import type { Part } from '@oiseau/album/layout';
import type { SoundFiguresByName, SidesByName, LineUpsByName } from '@oiseau/album/measured';
import type { CdTextCharset } from '@oiseau/codings';
import type { UnfitText } from '@oiseau/formats/disc';
import type { Frames, Ticks } from '@oiseau/audio/time';
import type { DoubtSubject, MasterDoubt } from './master-doubts.js';

/** error: must be fixed before rendering · warning: likely to be queried · hint: worth a look. */
export type Severity = 'error' | 'warning' | 'hint';

/** What a rule found: figures, no sentence. `song` is an id, null the album; `part` is the number of a disc or side. */
export type Finding = { readonly severity: Severity } & (
  | { readonly code: 'no-tracks' }
  | { readonly code: 'too-many-tracks'; readonly part: number; readonly count: number }
  | {
      readonly code: 'region-outside-master';
      readonly song: string;
      readonly out: Ticks;
      readonly masterLength: Ticks;
    }
  | { readonly code: 'region-empty'; readonly song: string }
  | { readonly code: 'fades-too-long'; readonly song: string; readonly fades: Ticks; readonly region: Ticks }
  | { readonly code: 'overlap-over-two'; readonly song: string }
  | {
      readonly code: 'edition-overlap-lost' | 'edition-not-heard' | 'edition-own-isrc';
      readonly song: string;
    }
  | {
      readonly code: 'edition-upc-same';
      /** The other edition that has it. */
      readonly other: string;
      readonly text: string;
    }
  | { readonly code: 'first-pause-short'; readonly part: number; readonly pause: Ticks }
  | { readonly code: 'track-short'; readonly song: string; readonly length: Frames }
  | { readonly code: 'index-outside-track'; readonly song: string; readonly index: number }
  | { readonly code: 'disc-too-long'; readonly part: number; readonly leadOut: Frames }
  | { readonly code: 'side-too-long'; readonly part: number; readonly length: Ticks; readonly limit: Ticks }
  | { readonly code: 'side-long'; readonly part: number; readonly length: Ticks; readonly limit: Ticks }
  | { readonly code: 'sides-uneven'; readonly part: number; readonly other: string; readonly by: Ticks }
  | {
      readonly code: 'bass-against' | 'bass-wide' | 'bright-inside';
      readonly part: number;
      /** The second of the side that shows it. */
      readonly at: Ticks;
      /** A correlation; dB against the middle; dB over what comes before. */
      readonly value: number;
    }
  | { readonly code: 'no-disc' | 'no-side'; readonly deliverable: string }
  | { readonly code: 'isrc-malformed'; readonly song: string; readonly text: string }
  | {
      readonly code: 'isrc-double';
      readonly song: string;
      /** The number of the track that has it already. */
      readonly first: string;
      readonly isrc: string;
    }
  | { readonly code: 'upc-malformed'; readonly text: string }
  | { readonly code: 'title-empty'; readonly song: string }
  | { readonly code: 'album-title-empty' }
  | { readonly code: 'upc-missing' }
  | { readonly code: 'isrc-missing'; readonly song: string }
  | { readonly code: 'isrc-all-missing' }
  | { readonly code: 'title-like-file'; readonly song: string; readonly text: string; readonly tidy: string }
  | {
      readonly code: 'stray-blanks';
      readonly song: string | null;
      readonly field: TextName;
      readonly text: string;
    }
  | {
      readonly code: 'cd-text-unfit';
      readonly song: string | null;
      readonly field: UnfitText['field'];
      readonly block: number;
      readonly chars: string;
      readonly plain: string;
    }
  | {
      readonly code: 'cd-text-lost';
      readonly song: string | null;
      readonly field: UnfitText['field'];
      readonly block: number;
      readonly chars: string;
      readonly charset: CdTextCharset;
      /** What would write it onto a disc; null: nothing does yet. */
      readonly deliverable: string | null;
    }
  | {
      readonly code: 'cd-text-too-long';
      readonly part: number;
      readonly block: number;
      readonly packs: number;
    }
  | { readonly code: 'mark-in-song-before'; readonly song: string; readonly by: Ticks }
  | { readonly code: 'cut-off'; readonly song: string; readonly end: 'head' | 'tail' }
  | {
      readonly code: 'long-silence';
      readonly song: string;
      readonly end: 'head' | 'tail';
      readonly seconds: number;
    }
  | { readonly code: 'clipped'; readonly song: string; readonly runs: number }
  | { readonly code: 'over-full-scale'; readonly song: string; readonly peakDbfs: number }
  | { readonly code: 'lossy-master'; readonly song: string; readonly codec: string }
  | { readonly code: 'dithered-again'; readonly song: string; readonly why: readonly Message[] }
  | { readonly code: 'channels-inverted'; readonly song: string; readonly correlation: number }
  | { readonly code: 'one-sided'; readonly song: string }
  | { readonly code: 'loudness-apart'; readonly song: string; readonly lufs: number; readonly by: number }
  | { readonly code: 'rates-differ'; readonly rates: readonly number[] }
  | { readonly code: 'masters-unused'; readonly count: number }
  | { readonly code: 'cover-small'; readonly width: number; readonly height: number }
  | { readonly code: 'cover-not-square'; readonly width: number; readonly height: number }
  | { readonly code: 'cover-colours'; readonly space: string }
  | { readonly code: 'cover-see-through' }
  | { readonly code: 'cover-heavy'; readonly bytes: number }
  | {
      readonly code: 'lossy-peak';
      readonly song: string;
      readonly deliverable: string;
      readonly peakDbtp: number;
    }
  | {
      readonly code: 'limiter-deep';
      readonly song: string | null;
      readonly part: number;
      readonly mostDb: number;
    }
  | {
      readonly code: 'limiter-always';
      readonly song: string | null;
      readonly part: number;
      readonly share: number;
    }
  | { readonly code: 'lowest-lifted'; readonly song: string | null; readonly byDb: number }
  | { readonly code: 'bits-lost'; readonly songs: number }
  | { readonly code: 'clipped-pressed'; readonly song: string; readonly runs: number }
  | {
      readonly code: 'ceiling-high';
      readonly song: string | null;
      readonly ceiling: number;
      readonly deliverable: string;
    }
  | { readonly code: 'points-outside'; readonly song: string | null; readonly points: number }
  | {
      readonly code: 'alternate-short';
      readonly song: string;
      readonly alternate: string;
      /** What it lacks at the end of the region. */
      readonly lacking: Ticks;
    }
  | { readonly code: 'alternate-silent'; readonly song: string; readonly alternate: string }
  | {
      readonly code: 'alternate-shifted';
      readonly song: string;
      readonly alternate: string;
      /** How much later than the master it is, as it stands; negative: earlier. In samples of its own, and in time. */
      readonly samples: number;
      readonly by: Ticks;
    }
  | { readonly code: 'alternate-unknown'; readonly deliverable: string; readonly alternate: string }
  | {
      readonly code: 'alternate-missing';
      readonly deliverable: string;
      readonly alternate: string;
      /** Songs that it is made of, and how many of them lack the recording. */
      readonly of: number;
      readonly missing: number;
      /** Whether those get no file; else their masters are heard. */
      readonly leftOut: boolean;
    }
  | {
      readonly code: 'shop-refuses';
      readonly deliverable: string;
      readonly lacks: StoreRequirement;
      readonly song: string | null;
    }
  | {
      readonly code: 'store-may-refuse';
      readonly song: string;
      readonly deliverable: string;
      readonly doubt: MasterDoubt;
    }
  | { readonly code: 'section-empty'; readonly deliverable: string }
  | { readonly code: 'names-alike'; readonly deliverable: string; readonly name: string }
);
/** What a shop will not do without. */
export type StoreRequirement =
  | 'title'
  | 'performer'
  | 'label'
  | 'upc'
  | 'isrc'
  | 'release-date'
  | 'language'
  | 'copyright'
  | 'phonogram'
  | 'cover'
  | 'cover-size';
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
  readonly parts: readonly Part[];
  readonly masters: MasterFactsByKey;
  /** What was measured of every master of the album, where it is known; rules that need it find nothing without. */
  readonly details?: ReadonlyMap<string, MasterDetail>;
  /** What was measured of treated sounds; of those that are not there no figure is known. */
  readonly sounds?: SoundFiguresByName;
  /** How other recordings lie to their masters, as far as that was measured. */
  readonly lineUps?: LineUpsByName;
  /** What was measured of sides, as far as it is known. */
  readonly sides?: SidesByName;
  /** Of the album's picture, where it is known. */
  readonly cover?: CoverFacts | null;
}

export type Rule = (subject: CheckSubject) => Finding[];
