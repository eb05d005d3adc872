import { tracksOf, alternateOf, lackingAtEnd, MAIN, recordingsOf } from '@oiseau/album/model';
import { nameOfLineUp } from '@oiseau/album/measured';
import { samples, samplesToTicks, ticksToSamples } from '@oiseau/audio/time';
import type { CheckSubject, Finding, Rule } from './finding.js';

/** Other recordings of songs are long enough, sound, and line up; and those that are asked for are there. */
export const alternates: Rule = (subject) => [...ofSongs(subject), ...ofDeliverables(subject)];

function ofSongs({ parts, masters, details, lineUps }: CheckSubject): Finding[] {
  return parts.flatMap(({ songs, sequence }) =>
    songs.flatMap(({ id: song, region, alternates: all }, i) =>
      Object.entries(all).flatMap(([alternate, { master: other, shift }]): Finding[] => {
        const facts = masters.get(other);
        const out = sequence.songs[i]?.region.out;
        if (!facts || out === undefined) return [];
        const measurement = details?.get(other)?.measurement;
        // What stays under the gate of the loudness throughout counts as silence.
        if (measurement && measurement.integratedLufs === null)
          return [{ code: 'alternate-silent', severity: 'error', song, alternate }];
        const lacking = lackingAtEnd(out, shift, facts);
        if (lacking > 0) return [{ code: 'alternate-short', severity: 'error', song, alternate, lacking }];
        const found = lineUps?.get(nameOfLineUp({ master: region.master, other }))?.found;
        if (!found) return [];
        const by = found.samples - ticksToSamples(shift, found.rate);
        // Of two rates a sample either way is rounding.
        const least = masters.get(region.master)?.rate === found.rate ? 1 : 2;
        if (Math.abs(by) < least) return [];
        return [
          {
            ...{ code: 'alternate-shifted', severity: 'warning', song, alternate, samples: by },
            by: samplesToTicks(samples(by), found.rate),
          },
        ];
      }),
    ),
  );
}

function ofDeliverables({ album }: CheckSubject): Finding[] {
  const tracks = tracksOf(album);
  return album.deliverables.flatMap((deliverable) => {
    const select = deliverable.kind === 'tracks' ? deliverable.select : null;
    const chosen = tracks.filter((_, i) => !select || select.includes(i + 1));
    const heard = deliverable.kind === 'tracks' ? chosen : album.songs;
    return recordingsOf(deliverable).flatMap((alternate): Finding[] => {
      if (alternate === MAIN || tracks.length === 0) return [];
      const without = heard.filter((song) => !alternateOf(song, alternate));
      const { name, kind } = deliverable;
      if (without.length === heard.length)
        return [{ code: 'alternate-unknown', severity: 'error', deliverable: name, alternate }];
      if (without.length === 0) return [];
      return [
        {
          ...{ code: 'alternate-missing', severity: 'hint', deliverable: name, alternate },
          ...{ of: heard.length, missing: without.length, leftOut: kind === 'tracks' },
        },
      ];
    });
  });
}
