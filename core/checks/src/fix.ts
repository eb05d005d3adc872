import { msg, type Message } from '@oiseau/messages';
import { songOf, type Album, alternateOf } from '@oiseau/album/model';
import { lineUpAlternate, changeSong, editMarks, editRegion, editWords } from '@oiseau/album/edits';
import type { AlbumTreatment } from '@oiseau/audio/stages';
import { eanCheckDigit } from '@oiseau/formats/disc';
import { FIRST_PAUSE_FRAMES, framesToTicks, ticks } from '@oiseau/audio/time';
import type { CheckSubject, Finding } from './finding.js';
import { CEILING_DBTP } from './lossy-peaks.js';
import { tidyBlanks } from './text-habits.js';

/** A way to fix a finding that changes nothing else. */
export interface Fix {
  /** What it does, in words for a button. */
  readonly label: Message;
  readonly change: (album: Album) => Album;
}

/** How a finding can be mended safely; null where a person must decide. */
export function fixOf(finding: Finding, { parts }: CheckSubject): Fix | null {
  switch (finding.code) {
    case 'stray-blanks': {
      const { field, text, song } = finding;
      const change = { [field]: tidyBlanks(text) };
      return {
        label: msg('Remove extra spaces'),
        change: (before) => (song === null ? { ...before, ...change } : editWords(before, song, change)),
      };
    }
    case 'title-like-file':
      return {
        label: msg('Rename to “{title}”', { title: finding.tidy }),
        change: (before) => editWords(before, finding.song, { title: finding.tidy }),
      };
    case 'cd-text-unfit':
      return {
        label: msg('Accept substitutes'),
        change: (before) => ({ ...before, cdTextPlain: true }),
      };
    case 'mark-in-song-before':
      return {
        label: msg('Move the mark to the start of the track'),
        change: (before) => editMarks(before, finding.song, { markLead: ticks(0) }),
      };
    case 'upc-malformed': {
      const digits = finding.text.replace(/[-\s]/g, '');
      if (!/^\d{12,13}$/.test(digits)) return null;
      const stem = digits.padStart(13, '0').slice(0, 12);
      const upc = `${stem}${eanCheckDigit(stem)}`;
      return { label: msg('Change to {upc}', { upc }), change: (before) => ({ ...before, upc }) };
    }
    case 'first-pause-short': {
      const first = parts[finding.part - 1]?.songs[0];
      return first
        ? {
            label: msg('Set to 2 s'),
            change: (before) =>
              editRegion(before, first.id, { gapBefore: framesToTicks(FIRST_PAUSE_FRAMES) }),
          }
        : null;
    }
    case 'alternate-shifted': {
      const { song, alternate, by } = finding;
      return {
        label: msg('Align'),
        change: (before) => {
          const { shift = 0 } = alternateOf(songOf(before, song) ?? { alternates: {} }, alternate) ?? {};
          return lineUpAlternate(before, song, alternate, ticks(shift + by));
        },
      };
    }
    case 'ceiling-high': {
      const lowered = <T extends AlbumTreatment>(treatment: T): T => ({
        ...treatment,
        limiter: treatment.limiter && { ...treatment.limiter, ceiling: CEILING_DBTP },
      });
      const { song } = finding;
      return {
        label: msg('Set ceiling to −1 dBTP'),
        change: (before) =>
          song === null
            ? { ...before, sound: lowered(before.sound) }
            : changeSong(before, song, (of) => ({
                ...of,
                region: { ...of.region, sound: lowered(of.region.sound) },
              })),
      };
    }
    default:
      return null;
  }
}
