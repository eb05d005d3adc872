import { useNotices, type NoticeAction } from '../ui/Notices.js';
import { useAlbum } from './AlbumContext.js';
import { t } from '../ui/messages.js';

const IN_THE_WAY = t(
  'A later edit changed the same field, so this one can’t be undone on its own. Use Undo to go back step by step.',
);

/** The “Undo” of a notice about a step that `edit` made: it takes back that step, not whatever came last. */
export function useTakeBack(): (step: number | null) => NoticeAction | undefined {
  const { takeBack } = useAlbum('takeBack');
  const { tell } = useNotices();
  return (step) => {
    if (step === null) return undefined;
    const run = (): void => {
      if (takeBack(step) === 'in the way of a later edit') tell(IN_THE_WAY);
    };
    return { label: t('Undo'), run };
  };
}
