import { addressOf, CONTRACT } from '@oiseau/api';
import { labelCopy, labelPaper, labelRows } from '@oiseau/formats/papers';
import { useAlbum } from '../album/AlbumContext.js';
import { PaperSheet } from '../checks/PaperSheet.js';
import { t } from '../ui/messages.js';

/** All words and codes of the album on one sheet, as a label prints them. */
export function LabelCopyView() {
  const { id, album, parts, edition } = useAlbum('id', 'album', 'parts', 'edition');
  const copy = labelCopy(album, parts);
  return (
    <PaperSheet
      paper={labelPaper(copy)}
      rows={labelRows(copy)}
      pdf={(language) => addressOf(CONTRACT.labelCopy, { params: { id }, query: { language, edition } })}
      back={['sleeve', t('Sleeve')]}
    />
  );
}
