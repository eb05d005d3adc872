import { transitionSpan, type Placement } from '@oiseau/album/layout';
import { secondsToTicks, ticksToSamples, type Interval, type Samples } from '@oiseau/audio/time';
import { PLAYER_RATE } from '../player/player.js';

/** What of a part is played to hear the transition into a track, so many seconds around it; null where the track isn't on the part. */
export function transitionStretch(
  placement: Placement,
  id: string,
  aroundSeconds: number,
): Interval<Samples> | null {
  const span = transitionSpan(placement, id, secondsToTicks(aroundSeconds));
  return (
    span && {
      start: ticksToSamples(span.start, PLAYER_RATE),
      end: ticksToSamples(span.end, PLAYER_RATE),
    }
  );
}
