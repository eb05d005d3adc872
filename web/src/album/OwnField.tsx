import { addOverride, editionDifferences, removeOverride, type EditionDifference } from '@oiseau/album/edits';
import { Layers } from 'lucide-react';
import { Button } from 'react-bootstrap';
import { useMay } from '../access/VisitorContext.js';
import { t } from '../ui/messages.js';
import { useAlbum } from './AlbumContext.js';

/**
 * Beside a field that editions share: marks one that the shown edition has of its own, and switches between that and the album’s value. Not
 * there where the album has one edition.
 */
export function OwnField({ label, of }: { readonly label: string; readonly of: EditionDifference }) {
  const { editing, album, edition, editWhole } = useAlbum('editing', 'album', 'edition', 'editWhole');
  const mayWork = useMay('work');
  const whole = editing.album;
  const shown = whole.editions.find(({ name }) => name === edition);
  if (!mayWork || !shown || whole.editions.length < 2) return null;
  const isOwn = editionDifferences(whole, shown).some(
    ({ song, field }) => song === of.song && field === of.field,
  );
  // An empty text can’t be an edition’s own: it stands for the album’s.
  const isEmpty = of.song === null && !isOwn && album[of.field as 'title'] === '';
  const words = { field: label, edition };
  const change = (): void => {
    const named = isOwn
      ? t('{field} of edition “{edition}” as on the album', words)
      : t('{field} only in edition “{edition}”', words);
    editWhole(named, (before) => (isOwn ? removeOverride : addOverride)(before, edition, of));
  };
  return (
    <Button
      variant="link"
      className={isOwn ? 'own-mark own' : 'own-mark'}
      disabled={isEmpty}
      aria-pressed={isOwn}
      aria-label={t('{field} only in edition “{edition}”', words)}
      title={
        isOwn
          ? t('Only in “{edition}”: use the album’s value', { edition })
          : t('Only in “{edition}”', { edition })
      }
      onClick={change}
    >
      <Layers size={14} aria-hidden />
    </Button>
  );
}
