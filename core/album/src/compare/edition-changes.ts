import { joined, msg, type Message } from '@oiseau/messages';
import { sameValue } from '../edits/revert.js';
import type { Album } from '../model/album.js';
import type { Edition } from '../model/edition.js';

const FIELDS: Readonly<Record<Exclude<keyof Edition, 'name'>, Message>> = {
  draft: msg('draft'),
  order: msg('running order'),
  parts: msg('parts'),
  sound: msg('album treatment'),
  tracks: msg('settings of tracks'),
  title: msg('title'),
  upc: msg('UPC/EAN'),
  catalogNumber: msg('catalogue number'),
  releaseDate: msg('release date'),
};

/** Editions that were added or removed, and which of their fields changed. */
export function editionChanges(before: Album, after: Album): Message[] {
  const old = new Map(before.editions.map((edition) => [edition.name, edition]));
  const now = new Set(after.editions.map(({ name }) => name));
  return [
    ...[...old.keys()]
      .filter((name) => !now.has(name))
      .map((name) => msg('edition “{name}” removed', { name })),
    ...after.editions.flatMap((edition): Message[] => {
      const { name } = edition;
      const was = old.get(name);
      if (!was) return [msg('edition “{name}” added', { name })];
      const changed = Object.entries(FIELDS)
        .filter(([field]) => !sameValue(edition[field as keyof Edition], was[field as keyof Edition]))
        .map(([, words]) => words);
      return changed.length === 0
        ? []
        : [msg('edition “{name}” changed: {fields}', { name, fields: joined(changed) })];
    }),
  ];
}
