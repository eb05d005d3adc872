import { CONTRACT, type MasterRecord } from '@oiseau/api';
import { useQueryClient } from '@tanstack/react-query';
import { useAlbum } from '../album/AlbumContext.js';
import { call } from '../api/client.js';
import { mastersKey } from '../api/queries.js';
import { useNotices } from '../ui/Notices.js';
import { t } from '../ui/messages.js';

/** Takes masters that nothing plays out of the album; a notice puts them back. Those that a revision plays stay, and it is said why. */
export function useTakeOut(): (masters: readonly MasterRecord[]) => Promise<void> {
  const { id } = useAlbum('id');
  const queries = useQueryClient();
  const { tell, complain } = useNotices();
  const refresh = (): Promise<void> => queries.invalidateQueries({ queryKey: mastersKey(id) });
  const putBack = async (masters: readonly MasterRecord[]): Promise<void> => {
    for (const { sha256, name, replaces } of masters)
      await call(CONTRACT.putMasterBack, { params: { id, sha256 }, body: { name, replaces } });
    await refresh();
  };
  return async (masters) => {
    const gone: MasterRecord[] = [];
    const stays: string[] = [];
    for (const master of masters)
      await call(CONTRACT.removeMaster, { params: { id, sha256: master.sha256 } }).then(
        () => gone.push(master),
        (error: unknown) => stays.push(error instanceof Error ? error.message : String(error)),
      );
    await refresh();
    const [why] = stays;
    if (why !== undefined)
      complain(
        new Error(
          stays.length === 1 ? why : t('{count} files were kept. {why}', { count: stays.length, why }),
        ),
      );
    if (gone.length > 0)
      tell(
        gone.length === 1
          ? t('“{name}” was removed.', { name: gone[0]?.name })
          : t('{count, plural, one {# file} other {# files}} were removed.', { count: gone.length }),
        {
          label: t('Undo'),
          run: () => void putBack(gone).catch(complain),
        },
      );
  };
}
