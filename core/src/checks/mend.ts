import type { Album } from '../album/album.js';
import { editTrack, trackAtIndex } from '../album/edit.js';
import { eanCheckDigit } from '../disc/ean.js';
import { FIRST_PAUSE_FRAMES, framesToTicks } from '../time/frames.js';
import { ticks } from '../time/ticks.js';
import type { CheckSubject, Finding } from './finding.js';
import { tidyBlanks } from './text-habits.js';

/** A way to mend a finding that changes nothing else. */
export interface Mend {
  /** What it does, in words for a button. */
  readonly label: string;
  readonly change: (album: Album) => Album;
}

/** How a finding can be mended safely; null where a person must decide. */
export function mendOf(finding: Finding, { album, layout }: CheckSubject): Mend | null {
  const ofTrack = (index: number | null): { id: string } | undefined =>
    index === null ? undefined : trackAtIndex(album, index);
  switch (finding.code) {
    case 'stray-blanks': {
      const { field, text } = finding;
      const change = { [field]: tidyBlanks(text) };
      const track = ofTrack(finding.track);
      return {
        label: 'Take the blanks out',
        change: (before) => (track ? editTrack(before, track.id, change) : { ...before, ...change }),
      };
    }
    case 'title-like-file': {
      const track = ofTrack(finding.track);
      return track
        ? {
            label: `Call it “${finding.tidy}”`,
            change: (before) => editTrack(before, track.id, { title: finding.tidy }),
          }
        : null;
    }
    case 'cd-text-unfit':
      return {
        label: 'Plain letters on the disc',
        change: (before) => ({ ...before, cdTextPlain: true }),
      };
    case 'mark-in-song-before': {
      const track = ofTrack(finding.track);
      const placed = layout.tracks[finding.track];
      return track && placed
        ? {
            label: 'Mark at the start of the song',
            change: (before) => editTrack(before, track.id, { markLead: ticks(0) }),
          }
        : null;
    }
    case 'upc-malformed': {
      const digits = finding.text.replace(/[-\s]/g, '');
      if (!/^\d{12,13}$/.test(digits)) return null;
      const stem = digits.padStart(13, '0').slice(0, 12);
      const upc = `${stem}${eanCheckDigit(stem)}`;
      return { label: `Make it ${upc}`, change: (before) => ({ ...before, upc }) };
    }
    case 'first-pause-short': {
      const first = album.hidden ?? album.tracks[0];
      return first
        ? {
            label: 'Make it 2 s',
            change: (before) => editTrack(before, first.id, { gapBefore: framesToTicks(FIRST_PAUSE_FRAMES) }),
          }
        : null;
    }
    default:
      return null;
  }
}
