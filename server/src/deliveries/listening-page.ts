import type { ListeningPageRecord, ListeningRow, ListeningTrack } from '@oiseau/api';
import {
  audioOf,
  deliveredRows,
  trackOfMoment,
  tracksInFile,
  type DeliveredRow,
  type Proof,
} from '@oiseau/render';
import { ticksToSeconds } from '@oiseau/audio/time';
import { trackMarks } from '@oiseau/formats/disc';
import type { Album } from '@oiseau/album/model';
import type { Listener } from '../access/listener.js';
import type { Db } from '../db/database.js';
import { deliveredPlan, type DeliveredPlan } from './delivered-plan.js';
import { earlierNotes, type EarlierNote } from './note-repository.js';
import { deliveryThere, type Rendered } from './rendered.js';

/** A track with the id of its song, which no listener is told. */
interface SongTrack extends ListeningTrack {
  readonly id: string;
}
interface SongRow extends Omit<ListeningRow, 'tracks'> {
  readonly tracks: readonly SongTrack[];
}

/** Everything that a listener gets to see of a delivery. */
export async function listeningPage(
  db: Db,
  listener: Listener,
  { delivery }: Rendered,
): Promise<Omit<ListeningPageRecord, 'endsAt'> & { readonly endsAt: Date }> {
  const delivered = await deliveredPlan(db, delivery);
  const { album, plan, parts } = delivered;
  const rows = deliveredRows(plan, parts).map((row) => rowOf(row, album, delivery.proof));
  const earlier = await earlierNotes(db, listener.listenerId, delivery);
  return {
    ...{ name: listener.name, endsAt: listener.endsAt },
    ...{ title: album.title, performer: album.performer, hasCover: album.artwork !== null },
    ...{ deliverable: delivery.deliverable.name, revision: delivery.revision },
    rows: rows.map(({ tracks, ...row }) => ({ ...row, tracks: tracks.map(({ id: _, ...track }) => track) })),
    earlier: await whatBecameOf(db, earlier, rows),
  };
}

/** A row with the lengths that its files were proved to have, and the tracks as they lie in it. */
function rowOf({ name, part, files }: DeliveredRow, album: Album, proof: Proof | null): SongRow {
  const marks = trackMarks(part);
  let start = 0;
  const tracks: SongTrack[] = [];
  const heard = files.map((file) => {
    const proved = proof?.files.find(({ path }) => path === file.path);
    const seconds = proved?.frames && proved.rate ? proved.frames / proved.rate : 0;
    for (const place of tracksInFile(part, file)) {
      const mark = marks[place.number - 1];
      const next = marks[place.number];
      const track = part.tracks[place.number - 1];
      if (!mark) continue;
      tracks.push({
        ...{ id: place.id, number: place.number, title: track?.title || 'Untitled' },
        performer: track?.performer && track.performer !== album.performer ? track.performer : '',
        ...{ start: start + place.seconds, seconds: ticksToSeconds(mark.end) - ticksToSeconds(mark.start) },
        gap: next ? ticksToSeconds(next.start) - ticksToSeconds(mark.end) : null,
      });
    }
    start += seconds;
    return { path: file.path, seconds };
  });
  return { name, files: heard, tracks };
}

/** The notes of a listener on other deliveries of the album, with where their moments are now; the newest revision first. */
async function whatBecameOf(
  db: Db,
  notes: readonly EarlierNote[],
  rows: readonly SongRow[],
): Promise<ListeningPageRecord['earlier']> {
  const plans = new Map<string, DeliveredPlan>();
  for (const { deliveryId } of notes)
    if (!plans.has(deliveryId))
      plans.set(deliveryId, await deliveredPlan(db, await deliveryThere(db, deliveryId)));
  const revisions = new Map<number, ListeningPageRecord['earlier'][number]['notes']>();
  for (const { deliveryId, revision, path, seconds, text, metAt } of notes) {
    const delivered = plans.get(deliveryId);
    const then = delivered && momentOf(delivered, path, seconds);
    revisions.set(revision, [
      ...(revisions.get(revision) ?? []),
      {
        ...{ text, met: metAt !== null },
        track: then ? { number: then.number, title: then.title } : null,
        place: then ? placeNow(rows, then.id, then.into) : null,
      },
    ]);
  }
  return [...revisions].sort(([a], [b]) => b - a).map(([revision, noted]) => ({ revision, notes: noted }));
}

/** The track that sounded at a moment of a delivery, and how far into it that was. */
function momentOf({ plan, parts }: DeliveredPlan, path: string, seconds: number) {
  const file = audioOf(plan, path);
  const part = parts.find(({ number }) => number === file?.part);
  const place = file && part && trackOfMoment(part, file, seconds);
  if (!place) return undefined;
  const track = part.tracks[place.number - 1];
  const into = ticksToSeconds(file.stretch.start) + seconds - place.seconds;
  return { id: place.id, number: place.number, title: track?.title || 'Untitled', into };
}

function placeNow(
  rows: readonly SongRow[],
  id: string,
  into: number,
): { readonly row: number; readonly seconds: number } | null {
  for (const [row, { tracks }] of rows.entries()) {
    const track = tracks.find((each) => each.id === id);
    if (track) return { row, seconds: track.start + Math.min(Math.max(0, into), track.seconds) };
  }
  return null;
}
