import { eanFault, parseEan } from '@oiseau/formats/disc';
import { editPart } from '@oiseau/album/edits';
import { partName } from '@oiseau/album/model';
import type { Part } from '@oiseau/album/layout';
import { DraftField } from '../ui/DraftField.js';
import { useAlbum } from './AlbumContext.js';
import { sayFault, t } from '../ui/messages.js';

const NAMES = { title: t('Title'), upc: t('UPC/EAN') } as const;

/** What a part is called, or its own code; empty it has the album’s. */
export function PartField({ part, field }: { part: Part; field: keyof typeof NAMES }) {
  const { album, edit } = useAlbum('album', 'edit');
  const label = t('{field} of {part}', { field: NAMES[field], part: partName(part) });
  return (
    <DraftField
      label={label}
      className="form-control-sm"
      value={album.parts[part.number - 1]?.[field] ?? ''}
      placeholder={album[field]}
      keepFaulty
      {...(field === 'upc' && { fault: (text: string) => sayFault(eanFault(text)) })}
      onCommit={(text) => {
        const kept = field === 'upc' ? (parseEan(text) ?? text) : text;
        edit(
          t('{value} “{kept}”', { value: field === 'upc' ? label : label.toLowerCase(), kept }),
          (before) => editPart(before, part.number, { [field]: kept }),
        );
      }}
    />
  );
}
