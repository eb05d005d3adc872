import { lowerCeiling, type EncodersRoom, type Overshoot, type RoomFigures } from '@oiseau/album/measured';
import { Programme, sequenceOfSound, type SourcesByKey } from '@oiseau/render';
import { overshootOf, type Coded } from '@oiseau/host';

/** Ceilings that are tried at the most: each comes near to what is left of the overshoot. */
const MOST_TRIES = 5;

/**
 * Encodes the loudest moments of an album under its limiter's ceiling, and under lower ones until every file stays under 0 dBTP.
 * @throws CodecError
 */
export async function findRoom(
  { part, limiter, moments, coded }: EncodersRoom,
  masters: SourcesByKey,
  tell: (share: number, seconds: number) => Promise<void>,
): Promise<RoomFigures> {
  let tries = 0;
  const under = async (ceiling: number): Promise<Overshoot[]> => {
    const sequence = sequenceOfSound({
      ...part,
      sound: { ...part.sound, limiter: { ...limiter, ceiling } },
    });
    const found: Overshoot[] = [];
    for (const { name, ...order } of coded) {
      const programme = new Programme(sequence, masters, order.rate);
      const source = {
        ...{ rate: order.rate, length: programme.length, format: 'float64' as const },
        read: (start: number, count: number) => programme.read(start, count),
      };
      const stretches = moments.map(({ start, end }) => ({
        start: programme.at(start),
        end: programme.at(end),
      }));
      const share = (tries + found.length / coded.length) / 2;
      const peaks = await overshootOf(source, stretches, order as Coded, () =>
        tell(Math.min(0.95, share), 0),
      );
      found.push({ name, ...peaks });
    }
    tries++;
    return found;
  };
  const now = await under(limiter.ceiling);
  let [ceiling, then] = [limiter.ceiling, now];
  for (
    let next = lowerCeiling(ceiling, then);
    next !== null && tries < MOST_TRIES;
    next = lowerCeiling(ceiling, then)
  )
    [ceiling, then] = [next, await under(next)];
  return { now, ceiling, then };
}
