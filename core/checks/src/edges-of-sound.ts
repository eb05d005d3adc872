import type { Finding, Rule } from './finding.js';
import { heardRegions } from './heard-region.js';

/** Silence before and after the sound that is likely to be queried, seconds. */
const LONG_HEAD_S = 3;
const LONG_TAIL_S = 6;
/** Sound that goes on for less than this past a cut was as good as over, seconds. */
const NEARLY_S = 0.05;

/** A track has no long quiet at its ends, and does not begin or end in the middle of sound without a fade. */
export const edgesOfSound: Rule = (subject) => {
  return heardRegions(subject).flatMap(
    ({ song: of, detail, measurement, heard, before, after }): Finding[] => {
      const song = of.id;
      const { start: from, end: until } = heard;
      const { master, fadeIn, fadeOut } = of.region;
      const [loud, soft] = measurement?.edges ?? [];
      if (!loud || loud.start === null || loud.end === null) return [];
      const { rate } = detail.info;
      const starts = loud.start / rate;
      const ends = loud.end / rate;
      const diesAway = (soft?.end ?? loud.end) / rate;
      const found: Finding[] = [];
      const silence = (end: 'head' | 'tail', seconds: number, most: number): void => {
        if (seconds > most) found.push({ code: 'long-silence', severity: 'hint', song, end, seconds });
      };
      silence('head', starts - from, LONG_HEAD_S);
      silence('tail', until - diesAway, LONG_TAIL_S);
      const cut = (end: 'head' | 'tail'): void =>
        void found.push({ code: 'cut-off', severity: 'warning', song, end });
      // Where the neighbour goes on in the same recording nothing is cut.
      const goesOn = before?.song.region.master === master && Math.abs(before.heard.end - from) < NEARLY_S;
      const isGoneOn = after?.song.region.master === master && Math.abs(after.heard.start - until) < NEARLY_S;
      if (from > starts + NEARLY_S && fadeIn.length === 0 && !goesOn) cut('head');
      if (until < ends - NEARLY_S && fadeOut.length === 0 && !isGoneOn) cut('tail');
      return found;
    },
  );
};
