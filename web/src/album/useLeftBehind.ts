import type { AlbumRecord } from '@oiseau/api';
import { useEffect, useState } from 'react';
import { useVisitor } from '../access/VisitorContext.js';
import { useNotices } from '../ui/Notices.js';
import { useAlbum } from './AlbumContext.js';
import type { AlbumStore } from '../workspace/album-store.js';
import type { LeftBehind } from '../workspace/unsaved-edits.js';
import { goOn, leftBehind } from '../workspace/unsaved.js';
import { t } from '../ui/messages.js';

/**
 * Looks after edits that an earlier window could not save any more. Where nothing has happened since, the album goes on from them; where
 * another user has changed it meanwhile they are offered.
 * @returns those that are offered, and the way to be rid of one
 */
export function useLeftBehind(
  record: AlbumRecord,
  store: AlbumStore,
): { offered: readonly LeftBehind[]; forget: (entry: LeftBehind) => void } {
  const { takeBack } = useAlbum('takeBack');
  const { id: keyId } = useVisitor();
  const { tell } = useNotices();
  const [offered, setOffered] = useState<readonly LeftBehind[]>([]);
  useEffect(() => {
    const { step, apart } = goOn(store, record, leftBehind(localStorage, keyId, record.id));
    if (step !== null)
      tell(t('Unsaved edits from your last visit were restored.'), {
        label: t('Undo'),
        run: () => void takeBack(step),
      });
    setOffered(apart);
    // Once, when the album is opened: what is left behind later is another window's.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [store]);
  return {
    offered,
    forget: (entry) => {
      entry.forget();
      setOffered((all) => all.filter((each) => each !== entry));
    },
  };
}
