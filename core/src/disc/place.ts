import type { Place } from '../album/deliverable.js';
import type { Layout } from '../album/sequence.js';
import { framesToTicks } from '../time/frames.js';
import { secondsToTicks, ticks, type Ticks } from '../time/ticks.js';
import { discMarks } from './marks.js';

/** The absolute time of a place; null when the album has no such mark. */
export function placeOnDisc(layout: Layout, place: Place): Ticks | null {
  const first = layout.tracks[0]?.startMark;
  if (typeof place === 'number')
    return first === undefined ? null : ticks(framesToTicks(first) + secondsToTicks(place));
  const [track, index = '1'] = place.split('.');
  const mark = discMarks(layout).find((each) => each.track === Number(track) && each.index === Number(index));
  return mark ? framesToTicks(mark.frames) : null;
}
