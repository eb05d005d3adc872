import { samplesToTicks, samples, type Ticks } from '../time/ticks.js';
import type { Album, Track } from './album.js';
import { layOut, type Layout, type Sequence, type SequenceTrack } from './sequence.js';

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
  album: Pick<Album, 'hidden' | 'tracks' | 'markLead' | 'endPause'>,
  masters: ReadonlyMap<string, MasterFacts>,
): Sequence {
  const region = (track: Track): SequenceTrack => ({
    ...track,
    out: track.out ?? masterTicks(mustHave(masters, track)),
  });
  return {
    markLead: album.markLead,
    endPause: album.endPause,
    hidden: album.hidden && region(album.hidden),
    tracks: album.tracks.map(region),
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
