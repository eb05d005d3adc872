import { addOverride, type EditionDifference } from '@oiseau/album/edits';
import { useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import { useMay } from '../access/VisitorContext.js';
import { useAlbum } from '../album/AlbumContext.js';
import { t } from '../ui/messages.js';
import { FIELD_WORDS } from './difference-words.js';
import type { LaidOutEdition } from './useLaidOutEditions.js';

/** Fields that all editions share unless one has a value of its own. */
const ALBUM_FIELDS = ['title', 'upc', 'catalogNumber', 'releaseDate'] as const;
const TRACK_FIELDS = ['title', 'isrc', 'in', 'out', 'indexes', 'sound'] as const;

const differenceOf = (song: string, field: string): EditionDifference | null => {
  if (song === '') {
    const own = ALBUM_FIELDS.find((each) => each === field);
    return own ? { song: null, field: own } : null;
  }
  const own = TRACK_FIELDS.find((each) => each === field);
  return own ? { song, field: own } : null;
};

/** Lets a field that all editions share have a value of its own in the edition that is shown. */
export function OwnFieldForm({ editions }: { readonly editions: readonly LaidOutEdition[] }) {
  const { edition, editWhole } = useAlbum('edition', 'editWhole');
  const [song, setSong] = useState('');
  const [field, setField] = useState<string>('title');
  const mayWork = useMay('work');
  const shown = editions.find((each) => each.edition.name === edition);
  if (!mayWork || !shown) return null;
  const chosen = shown.album.songs.some(({ id }) => id === song) ? song : '';
  const fields = chosen === '' ? ALBUM_FIELDS : TRACK_FIELDS;
  const difference = differenceOf(chosen, field);
  const words = { field: difference ? FIELD_WORDS[difference.field] : '', edition };
  return (
    <Form
      className="own-field"
      onSubmit={(event) => {
        event.preventDefault();
        if (difference)
          editWhole(t('{field} only in edition “{edition}”', words), (album) =>
            addOverride(album, edition, difference),
          );
      }}
    >
      <Form.Select
        size="sm"
        aria-label={t('Track')}
        value={chosen}
        onChange={({ target }) => {
          setSong(target.value);
          setField('title');
        }}
      >
        <option value="">{t('The album')}</option>
        {shown.album.songs.map(({ id, title }) => (
          <option key={id} value={id}>
            {title || t('Untitled')}
          </option>
        ))}
      </Form.Select>
      <Form.Select
        size="sm"
        aria-label={t('Field')}
        value={field}
        onChange={({ target }) => setField(target.value)}
      >
        {fields.map((each) => (
          <option key={each} value={each}>
            {FIELD_WORDS[each]}
          </option>
        ))}
      </Form.Select>
      <Button type="submit" size="sm" variant="outline-primary" disabled={!difference}>
        {t('Only in “{edition}”', { edition })}
      </Button>
    </Form>
  );
}
