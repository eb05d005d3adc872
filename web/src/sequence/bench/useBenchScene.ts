import { framesToTicks, ticks, type Interval, type Ticks } from '@oiseau/audio/time';
import { songBefore, songOf, type Song } from '@oiseau/album/model';
import type { Part } from '@oiseau/album/layout';
import { trackMarks } from '@oiseau/formats/disc';
import type { MasterRecord } from '@oiseau/api';
import { useMemo } from 'react';
import { useOutlines } from '../Outlines.js';
import { voiceOf, type BenchScene } from './bench-scene.js';
import type { BenchView } from './bench-view.js';
import { useLevel } from './useLevel.js';

/** What sounds before a song in its part: before track 1 the hidden song, if there is one. */
export const placedBefore = (part: Part, id: string): Interval<Ticks> | undefined =>
  part.placement.songs.get(songBefore(part, id)?.id ?? '');

interface SceneOptions {
  /** The song that begins. */
  readonly id: string;
  readonly part: Part;
  readonly view: BenchView;
  /** Seconds in sight. */
  readonly span: number;
  readonly master: MasterRecord;
  readonly masterBefore: MasterRecord | undefined;
}

/** What lies on the Bench; null as long as the disc has no such track. */
export function useBenchScene({
  id,
  part,
  view,
  span,
  master,
  masterBefore,
}: SceneOptions): BenchScene | null {
  const outlines = useOutlines();
  const songBegins = songOf(part, id);
  const songEnds = songBefore(part, id);
  const before = placedBefore(part, id);
  const after = part.placement.songs.get(id);
  const inMaster = (song: Song | undefined, start: Ticks | undefined): Ticks =>
    ticks(view.start - (start ?? 0) + (song?.region.in ?? 0));
  const soundBefore = useLevel(
    masterBefore ?? master,
    outlines.get(songEnds?.region.master ?? ''),
    inMaster(songEnds, before?.start),
    span,
  );
  const soundAfter = useLevel(
    master,
    outlines.get(songBegins?.region.master ?? ''),
    inMaster(songBegins, after?.start),
    span,
  );
  return useMemo(() => {
    const voice = voiceOf(songBegins, after, master, soundAfter);
    const marks = trackMarks(part).find((track) => track.id === id);
    if (!voice || !marks) return null;
    return {
      before: voiceOf(songEnds, before, masterBefore, soundBefore),
      after: voice,
      startMark: marks.start,
      pause: marks.pause,
      indexes: (part.disc?.tracks.get(id)?.indexes ?? []).map(framesToTicks),
    };
  }, [id, part, songEnds, songBegins, before, after, master, masterBefore, soundBefore, soundAfter]);
}
