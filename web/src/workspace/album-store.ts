import type { AlbumRecord, MasterRecord } from '@oiseau/api';
import { EditedAlbum } from './edited-album.js';
import { Saving, type AlbumServer } from './saving.js';
import type { UnsavedKeeper } from './unsaved-edits.js';

/** What a view may do with an album. The functions are the same as long as the store is. */
export type AlbumActions = Pick<
  EditedAlbum,
  'edit' | 'editWhole' | 'preview' | 'undo' | 'redo' | 'takeBack' | 'showPart' | 'showEdition'
> &
  Pick<Saving, 'saveNow' | 'resolve' | 'takeOver'>;

/** The one owner of an album that is edited: what stands, the steps that led to it, and how it stands with the server. */
export type AlbumStore = AlbumActions &
  Pick<EditedAlbum, 'state' | 'subscribe' | 'noteMasters'> &
  Pick<Saving, 'noteServer' | 'catchUp' | 'onMerged' | 'resume' | 'attend' | 'saveClosing'>;

const KEEPS_NOTHING: UnsavedKeeper = { put: () => undefined, clear: () => undefined };

export function createAlbumStore(
  record: AlbumRecord,
  masters: readonly MasterRecord[],
  server: AlbumServer,
  unsaved = KEEPS_NOTHING,
): AlbumStore {
  const album = new EditedAlbum(record, masters);
  const saving = new Saving(album, server, unsaved);
  const {
    state,
    subscribe,
    noteMasters,
    edit,
    editWhole,
    preview,
    undo,
    redo,
    takeBack,
    showPart,
    showEdition,
  } = album;
  const { saveNow, resolve, takeOver, noteServer, catchUp, onMerged, resume, attend, saveClosing } = saving;
  return {
    ...{
      state,
      subscribe,
      noteMasters,
      edit,
      editWhole,
      preview,
      undo,
      redo,
      takeBack,
      showPart,
      showEdition,
    },
    ...{ saveNow, resolve, takeOver, noteServer, catchUp, onMerged, resume, attend, saveClosing },
  };
}
