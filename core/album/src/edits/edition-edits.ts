import { STAGE_NAMES } from '@oiseau/audio/stages';
import type { Album } from '../model/album.js';
import { albumOfEdition, editionNameOf } from '../model/album-of-edition.js';
import type { Deliverable } from '../model/deliverable.js';
import { newEdition, type Edition, type EditionTrack } from '../model/edition.js';
import type { Song } from '../model/song.js';
import { sameValue } from './revert.js';

/** Text that an edition may have of its own; elsewhere it is the album's. */
const OWN_TEXT = ['title', 'upc', 'catalogNumber', 'releaseDate'] as const;
/** Always the edition's: spacing, fades and levels at its own transitions. */
const SPACING = ['gapBefore', 'fadeIn', 'fadeOut', 'gainDb'] as const;
/** Shared by all editions unless the edition overrides the field. */
const TRIMS = ['in', 'out'] as const;

type Stages = Readonly<Record<string, unknown>>;

/**
 * Applies an edit to an edition as if it were an album of its own, and keeps what it changed where it belongs: order, left-out tracks,
 * spacing, fades, gains, parts and the album treatment in the edition; trims, track treatments, text and codes in the album, where every
 * edition has them, unless the edition overrides that field.
 * @param change gets and returns the edition as `albumOfEdition` gives it
 * @throws RangeError where the album has no edition of that name
 */
export function changeEdition(album: Album, name: string, change: (album: Album) => Album): Album {
  const edition = album.editions.find((each) => each.name === name);
  if (!edition) throw new RangeError(`no edition “${name}”`);
  const before = albumOfEdition(album, edition);
  const after = change(before);
  return after === before ? album : putBack(album, edition, before, after);
}

function putBack(album: Album, edition: Edition, before: Album, after: Album): Album {
  const own: Record<string, EditionTrack> = { ...edition.tracks };
  const changed = new Map<string, Song>();
  for (const song of after.songs) {
    const was = before.songs.find(({ id }) => id === song.id);
    const base = album.songs.find(({ id }) => id === song.id);
    if (!was || !base || sameValue(was, song)) continue;
    const [shared, overrides] = splitSong(base, was, song, edition.tracks[song.id] ?? {});
    changed.set(song.id, shared);
    if (Object.keys(overrides).length > 0) own[song.id] = overrides;
  }
  const songs = withNewSongs(
    album.songs.map((song) => changed.get(song.id) ?? song),
    after.songs,
  );
  const order = after.songs.map(({ id }) => id);
  const isAlbumsOrder = sameValue(
    order,
    songs.map(({ id }) => id),
  );
  const inherited = isAlbumsOrder ? album.parts : [];
  const next: Edition = {
    ...edition,
    order: isAlbumsOrder ? null : order,
    parts: edition.parts !== null || !sameValue(after.parts, inherited) ? after.parts : null,
    sound: { ...edition.sound, ...changedStages(before.sound, after.sound) },
    tracks: own,
    ...textOf(edition, before, after),
  };
  return {
    ...album,
    ...sharedFields(edition, before, after),
    songs,
    editions: album.editions.map((each) => (each === edition ? next : each)),
    deliverables: withDeliverables(album, edition, before, after),
  };
}

/** A song as the album keeps it, and what the edition says of it. */
function splitSong(base: Song, was: Song, song: Song, own: EditionTrack): [Song, EditionTrack] {
  const overrides: Record<string, unknown> = { ...own };
  const shared: Record<string, unknown> = { ...base };
  const region: Record<string, unknown> = { ...base.region };
  /** An override stays one; else the field is the album's. */
  const keep = (target: Record<string, unknown>, field: string, value: unknown): void => {
    if (field in own) overrides[field] = value;
    else target[field] = value;
  };
  for (const field of SPACING)
    if (!sameValue(was.region[field], song.region[field])) overrides[field] = song.region[field];
  for (const field of TRIMS)
    if (was.region[field] !== song.region[field]) keep(region, field, song.region[field]);
  if (was.region.master !== song.region.master) region.master = song.region.master;
  for (const [stage, settings] of Object.entries(changedStages(was.region.sound, song.region.sound))) {
    if (stage in (own.sound ?? {})) overrides.sound = { ...(overrides.sound as object), [stage]: settings };
    else region.sound = { ...(region.sound as object), [stage]: settings };
  }
  const marks: Record<string, unknown> = { ...base.marks };
  for (const [field, value] of Object.entries(song.marks))
    if (!sameValue(was.marks[field as keyof Song['marks']], value)) keep(marks, field, value);
  for (const [field, value] of Object.entries(song))
    if (field !== 'region' && field !== 'marks' && !sameValue(was[field as keyof Song], value))
      keep(shared, field, value);
  return [{ ...shared, region, marks } as unknown as Song, overrides as EditionTrack];
}

/** Stages of a treatment that an edit changed, as they are now. */
const changedStages = (was: Stages, now: Stages): Stages =>
  Object.fromEntries(
    STAGE_NAMES.filter((name) => name in now && !sameValue(was[name], now[name])).map((name) => [
      name,
      now[name],
    ]),
  );

/** The album's songs with those that an edit added, each after the song that it follows on the edition. */
function withNewSongs(songs: readonly Song[], after: readonly Song[]): Song[] {
  const all = [...songs];
  after.forEach((song, i) => {
    if (all.some(({ id }) => id === song.id)) return;
    const before = after[i - 1];
    all.splice(before ? all.findIndex(({ id }) => id === before.id) + 1 : 0, 0, song);
  });
  return all;
}

const textOf = (edition: Edition, before: Album, after: Album): Partial<Edition> =>
  Object.fromEntries(
    OWN_TEXT.filter((field) => edition[field] !== '' && before[field] !== after[field]).map((field) => [
      field,
      after[field],
    ]),
  );

/** Fields of the album itself that an edit changed. */
function sharedFields(edition: Edition, before: Album, after: Album): Partial<Album> {
  const elsewhere: readonly string[] = ['songs', 'parts', 'editions', 'deliverables', 'sound'];
  const isOwn = (field: string): boolean => OWN_TEXT.some((text) => text === field && edition[text] !== '');
  return Object.fromEntries(
    Object.entries(after).filter(
      ([field, value]) =>
        !elsewhere.includes(field) && !isOwn(field) && !sameValue(before[field as keyof Album], value),
    ),
  );
}

/** All deliverables, those of the edition as an edit left them. */
function withDeliverables(album: Album, { name }: Edition, before: Album, after: Album): Deliverable[] {
  if (sameValue(before.deliverables, after.deliverables)) return album.deliverables;
  const isFirst = album.editions[0]?.name === name;
  const own = after.deliverables.map((each) => (isFirst ? each : { ...each, edition: name }));
  const isOwn = (each: Deliverable): boolean => editionNameOf(album, each) === name;
  const place = album.deliverables.findIndex(isOwn);
  const others = album.deliverables.filter((each) => !isOwn(each));
  return place < 0 ? [...others, ...own] : [...others.slice(0, place), ...own, ...others.slice(place)];
}

/**
 * Adds an edition as a copy of another, which is shown first where the album had none.
 * @param from the edition that is copied; empty: the album, which becomes edition `first`
 */
export function addEdition(
  album: Album,
  name: string,
  { from, first, draft = false }: { readonly from: string; readonly first: string; readonly draft?: boolean },
): Album {
  const editions = album.editions.length === 0 ? [newEdition(first)] : album.editions;
  const copied = editions.find((each) => each.name === from) ?? newEdition(name);
  return { ...album, editions: [...editions, { ...copied, name, draft }] };
}

/** Renames an edition; its deliverables follow. */
export const renameEdition = (album: Album, name: string, to: string): Album => ({
  ...album,
  editions: album.editions.map((each) => (each.name === name ? { ...each, name: to } : each)),
  deliverables: album.deliverables.map((each) => (each.edition === name ? { ...each, edition: to } : each)),
});

/** Makes an edition of a draft, which is rendered like any other. */
export const draftAsEdition = (album: Album, name: string): Album => ({
  ...album,
  editions: album.editions.map((each) => (each.name === name ? { ...each, draft: false } : each)),
});

/** Removes an edition with its deliverables. The last one can't be removed. */
export function removeEdition(album: Album, name: string): Album {
  if (album.editions.length < 2) return album;
  const editions = album.editions.filter((each) => each.name !== name);
  return {
    ...album,
    editions,
    // What named no edition was of the first, whichever is first now.
    deliverables: album.deliverables
      .filter((each) => editionNameOf(album, each) !== name)
      .map((each) => (each.edition === undefined ? { ...each, edition: editionNameOf(album, each) } : each)),
  };
}

/**
 * Gives an edition what a draft has: order, parts, album treatment and all settings of tracks. Names, codes and dates stay, and the draft is
 * removed. The album itself where there is no such draft or edition.
 */
export function adoptDraft(album: Album, draft: string, into: string): Album {
  const from = album.editions.find(({ name }) => name === draft);
  if (!from?.draft || draft === into || !album.editions.some(({ name }) => name === into)) return album;
  const { order, parts, sound, tracks } = from;
  const editions = album.editions.map((each) =>
    each.name === into ? { ...each, order, parts, sound, tracks } : each,
  );
  return removeEdition({ ...album, editions }, draft);
}
