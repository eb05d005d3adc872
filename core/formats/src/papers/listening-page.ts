import type { Part } from '@oiseau/album/layout';
import { ticksToSeconds } from '@oiseau/audio/time';
import { trackMarks } from '../disc/track-marks.js';
import type { ListeningTexts } from './listening-page-texts.js';
import { LISTENING_SCRIPT, LISTENING_STYLE } from './listening-page-parts.js';
import * as z from '@oiseau/audio/z';

/** The response file of a listening copy, saved by its page. */
export const answerSchema = z.strictObject({
  format: z.literal('oiseau-answer'),
  version: z.literal(1),
  title: z.string().max(4000),
  revision: z.int().min(1),
  deliverable: z.string().max(200),
  /** Who answers. */
  name: z.string().trim().min(1).max(200),
  verdict: z.enum(['approved', 'change']),
  words: z.string().max(10_000),
  notes: z
    .array(
      z.strictObject({
        path: z.string().min(1).max(500),
        seconds: z.number().min(0),
        text: z.string().max(4000),
      }),
    )
    .max(1000),
  /** What was listened to, by content. */
  files: z
    .array(z.strictObject({ path: z.string().min(1).max(500), sha256: z.string().regex(/^[0-9a-f]{64}$/) }))
    .min(1)
    .max(500),
});
export type Answer = z.output<typeof answerSchema>;

/** One file of a listening page with its tracks; times in seconds from the start of the file. */
export interface ListeningPart {
  readonly kind: Part['kind'];
  /** “1”, “A”. */
  readonly label: string;
  readonly path: string;
  readonly seconds: number;
  readonly tracks: readonly {
    readonly number: number;
    /** Empty: it has none. */
    readonly title: string;
    readonly performer: string;
    readonly start: number;
    /** Where its sound ends; what follows until the next track is the gap. */
    readonly end: number;
  }[];
}

/** Everything on the page but its cover and the sums of its files. */
export interface ListeningPage {
  readonly title: string;
  readonly performer: string;
  readonly deliverable: string;
  readonly revision: number;
  readonly parts: readonly ListeningPart[];
}

/** A part as it is heard in its continuous file, which begins with the start mark of its first track. */
export function listeningPart(part: Part, path: string, performer: string): ListeningPart {
  const marks = trackMarks(part);
  const zero = ticksToSeconds(marks[0]?.start ?? part.placement.end);
  return {
    ...{ kind: part.kind, label: part.label, path, seconds: ticksToSeconds(part.placement.end) - zero },
    tracks: marks.map(({ start, end }, i) => {
      const track = part.tracks[i];
      return {
        ...{ number: i + 1, title: track?.title ?? '' },
        performer: track?.performer && track.performer !== performer ? track.performer : '',
        ...{ start: ticksToSeconds(start) - zero, end: ticksToSeconds(end) - zero },
      };
    }),
  };
}

const ENTITIES: Readonly<Record<string, string>> = { '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' };
const escaped = (text: string): string => text.replace(/[&<>"]/g, (char) => ENTITIES[char] ?? char);

/** Data inside a script element: nothing in it can end that. */
const inScript = (value: unknown): string =>
  JSON.stringify(value)
    .replaceAll('<', '\\u003c')
    .replaceAll('\u2028', '\\u2028')
    .replaceAll('\u2029', '\\u2029');

/**
 * The page as one HTML file without any reference beyond the audio beside it.
 * @param files each file of audio with its SHA-256
 * @param cover as a data address; null: there is none
 * @param texts of `listeningTexts`; the markup itself is English, for browsers without scripts
 */
export function listeningHtml(
  page: ListeningPage,
  files: readonly { readonly path: string; readonly sha256: string }[],
  cover: string | null,
  texts: ListeningTexts,
): string {
  const { title, performer, revision } = page;
  return `<!doctype html>
<html lang="en">
<head>
<meta charset="utf-8">
<meta name="viewport" content="width=device-width, initial-scale=1">
<meta name="referrer" content="no-referrer">
<title>${escaped(title || 'Untitled')} – listening copy</title>
<style>${LISTENING_STYLE}</style>
</head>
<body>
<header>
${cover === null ? '' : `<img src="${cover}" alt="Cover of ${escaped(title)}">`}
<div><h1>${escaped(title || 'Untitled')}</h1><p>${escaped(performer)}</p><p class="quiet">Revision ${revision}</p></div>
</header>
<main></main>
<script type="application/json" id="page">${inScript({ ...page, files })}</script>
<script type="application/json" id="texts">${inScript(texts)}</script>
<script>${LISTENING_SCRIPT}</script>
</body>
</html>
`;
}

/** What stands in a page that was written: its data and whether anything in it leads elsewhere. */
export function readListeningHtml(html: string): {
  readonly page: unknown;
  readonly leadsElsewhere: boolean;
} {
  const [, data = 'null'] = /<script type="application\/json" id="page">([^<]*)<\/script>/.exec(html) ?? [];
  const leadsElsewhere =
    /(?:src|href)\s*=\s*"(?!data:)|url\(|@import|https?:\/\/|fetch\(|XMLHttpRequest|import\(/.test(
      html.replace(data, ''),
    );
  return { page: JSON.parse(data), leadsElsewhere };
}
