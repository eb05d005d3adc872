import { useQueryClient, type QueryKey } from '@tanstack/react-query';
import { useNotices } from '../ui/Notices.js';
import { t } from '../ui/messages.js';

/** Something that people keep under a name, for every album. */
interface Kept<T> {
  readonly queryKey: QueryKey;
  /** What the server has under a name at this moment, for a way back: what was drawn may be older. */
  find(name: string): Promise<T | undefined>;
  forget(name: string): Promise<unknown>;
  save(kept: T): Promise<unknown>;
  /** What is told of it. */
  words(name: string): string;
}

/** Forgets what is kept under a name; that can be undone. */
export function useForget<T>({ queryKey, find, forget, save, words }: Kept<T>): (name: string) => void {
  const queries = useQueryClient();
  const { tell, complain } = useNotices();
  const refresh = (): Promise<void> => queries.invalidateQueries({ queryKey });
  const forgetNow = async (name: string): Promise<void> => {
    const kept = await find(name);
    await forget(name);
    await refresh();
    if (kept === undefined) return;
    tell(words(name), { label: t('Undo'), run: () => void save(kept).then(refresh, complain) });
  };
  return (name) => void forgetNow(name).catch(complain);
}
