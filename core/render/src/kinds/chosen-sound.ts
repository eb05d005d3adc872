import { figure, msg, type Message, type Value } from '@oiseau/messages';
import { factsOf, rateFor } from '@oiseau/codings';
import { bitrateOf, codingOf, ditherOf, type SoundDeliverable } from '@oiseau/album/model';
import type { Part } from '@oiseau/album/layout';
import type { WordFormat } from '@oiseau/audio/pcm';
import { formatRate, overlaps, type Interval, type Ticks } from '@oiseau/audio/time';
import type { AudioOrder } from '../planned.js';

/** What all files of a deliverable share. A lossy encoder gets the programme as it is, in float. */
export function chosenSound(deliverable: SoundDeliverable, sourceRate: number) {
  const coding = codingOf(deliverable);
  const { bits, id3 } = deliverable;
  const format: WordFormat = factsOf(coding).lossy || bits === 'float' ? 'float32' : `int${bits}`;
  return {
    coding,
    rate: rateFor(coding, deliverable.rate === 'source' ? sourceRate : deliverable.rate),
    format,
    dither: ditherOf(deliverable),
    bitrate: bitrateOf(deliverable),
    quality: factsOf(coding).qualities.length > 0 ? deliverable.quality : null,
    id3,
  } satisfies Partial<AudioOrder>;
}

/** Whether nothing of a part lies in a stretch. */
export const isSilent = ({ placement }: Part, stretch: Interval<Ticks>): boolean =>
  ![...placement.songs.values()].some((audio) => overlaps(audio, stretch));

export const codingWords = (deliverable: SoundDeliverable): string => factsOf(codingOf(deliverable)).label;

/** Words and rate of a deliverable whose format is chosen: “320 kbit/s, rate as the master”. */
export const soundForm = (deliverable: SoundDeliverable): Message =>
  msg('{depth}, {rate}', { depth: wordWords(deliverable), rate: rateWords(deliverable) });

function wordWords(deliverable: SoundDeliverable): Message {
  const coding = codingOf(deliverable);
  if (!factsOf(coding).lossy)
    return deliverable.bits === 'float' ? msg('32 bit float') : msg('{bits} bit', { bits: deliverable.bits });
  const bitrate = bitrateOf(deliverable);
  return bitrate === null
    ? msg('variable, quality {quality}', { quality: deliverable.quality })
    : msg('{bitrate} kbit/s', { bitrate });
}

function rateWords(deliverable: SoundDeliverable): Value {
  const { rates } = factsOf(codingOf(deliverable));
  const [only] = rates;
  if (rates.length === 1 && only !== undefined) return figure(formatRate(only));
  if (deliverable.rate !== 'source') return figure(formatRate(deliverable.rate));
  return deliverable.kind === 'tracks'
    ? msg('sample rate of the master')
    : msg('highest sample rate of the masters');
}
