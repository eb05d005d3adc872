import type { AlbumRecord, MasterRecord } from '@oiseau/api';
import { EditedAlbum } from './edited-album.js';
import { Saving, type AlbumServer } from './saving.js';
import type { UnsavedKeeper } from './unsaved-edits.js';

/** Of an album and of its saving: what views do, then what the open album needs. Each is a function that may be handed on by itself. */
const ACTIONS = [
  'edit',
  'editWhole',
  'preview',
  'undo',
  'redo',
  'takeBack',
  'showPart',
  'showEdition',
] as const;
const INNER = ['state', 'subscribe', 'noteMasters'] as const;
const SAVING_ACTIONS = ['saveNow', 'resolve', 'takeOver'] as const;
const SAVING_INNER = ['noteServer', 'catchUp', 'onMerged', 'resume', 'attend', 'saveClosing'] as const;

/** What a view may do with an album. The functions are the same as long as the store is. */
export type AlbumActions = Pick<EditedAlbum, (typeof ACTIONS)[number]> &
  Pick<Saving, (typeof SAVING_ACTIONS)[number]>;

/** The one owner of an album that is edited: what stands, the steps that led to it, and how it stands with the server. */
export type AlbumStore = AlbumActions &
  Pick<EditedAlbum, (typeof INNER)[number]> &
  Pick<Saving, (typeof SAVING_INNER)[number]>;

const KEEPS_NOTHING: UnsavedKeeper = { put: () => undefined, clear: () => undefined };

const pick = <T, Name extends keyof T>(from: T, names: readonly Name[]): Pick<T, Name> =>
  Object.fromEntries(names.map((name) => [name, from[name]])) as Pick<T, Name>;

export function createAlbumStore(
  record: AlbumRecord,
  masters: readonly MasterRecord[],
  server: AlbumServer,
  unsaved = KEEPS_NOTHING,
): AlbumStore {
  const album = new EditedAlbum(record, masters);
  const saving = new Saving(album, server, unsaved);
  return { ...pick(album, [...INNER, ...ACTIONS]), ...pick(saving, [...SAVING_ACTIONS, ...SAVING_INNER]) };
}
