import { samplesToTicks, samples, type Ticks } from '../time/ticks.js';
import type { Album, Track } from './album.js';
import { layOut, type Layout, type Sequence } from './sequence.js';

/** What the album needs to know of a master to lay it out. */
export interface MasterFacts {
  readonly rate: number;
  /** Samples of one channel. */
  readonly length: number;
}

export function masterTicks(master: MasterFacts): Ticks {
  return samplesToTicks(samples(master.length), master.rate);
}

/** The album's sequence with every out point resolved. Throws a RangeError when a master is not among `masters`. */
export function sequenceOf(
  album: Pick<Album, 'tracks' | 'markLead' | 'endPause'>,
  masters: ReadonlyMap<string, MasterFacts>,
): Sequence {
  return {
    markLead: album.markLead,
    endPause: album.endPause,
    tracks: album.tracks.map((track) => ({
      ...track,
      out: track.out ?? masterTicks(mustHave(masters, track)),
    })),
  };
}

/** Sequence and layout of an album at once. */
export function layOutAlbum(
  album: Album,
  masters: ReadonlyMap<string, MasterFacts>,
): { sequence: Sequence; layout: Layout } {
  const sequence = sequenceOf(album, masters);
  return { sequence, layout: layOut(sequence) };
}

function mustHave<M>(masters: ReadonlyMap<string, M>, track: Track): M {
  const master = masters.get(track.master);
  if (!master) throw new RangeError(`The master of “${track.title}” is not known.`);
  return master;
}
