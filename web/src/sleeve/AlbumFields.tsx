import { CD_TEXT_GENRES, eanFault, parseEan } from '@oiseau/formats/disc';
import { fixOf } from '@oiseau/checks';
import { partName, type Album } from '@oiseau/album/model';
import { Button, Form } from 'react-bootstrap';
import { useAlbum } from '../album/AlbumContext.js';
import { OwnField } from '../album/OwnField.js';
import { PartField } from '../album/PartField.js';
import { useFindings } from '../checks/FindingsContext.js';
import { DraftField } from '../ui/DraftField.js';
import { rich, say, sayFault, t } from '../ui/messages.js';

type TextField =
  | 'title'
  | 'performer'
  | 'upc'
  | 'label'
  | 'catalogNumber'
  | 'releaseDate'
  | 'genre'
  | 'copyright'
  | 'phonogram';

const FIELDS: readonly {
  field: TextField;
  label: string;
  placeholder?: string;
  fault?: (text: string) => string | undefined;
}[] = [
  { field: 'title', label: t('Album title') },
  { field: 'performer', label: t('Performer') },
  {
    field: 'upc',
    label: t('UPC/EAN'),
    placeholder: t('13 digits including the check digit'),
    fault: (text) => sayFault(eanFault(text)),
  },
  { field: 'label', label: t('Label') },
  { field: 'catalogNumber', label: t('Catalogue number') },
  { field: 'releaseDate', label: t('Release date'), placeholder: '2026-11-09', fault: dateFault },
  { field: 'copyright', label: t('© line'), placeholder: t('2026 Marram Lamps') },
  { field: 'phonogram', label: t('℗ line'), placeholder: t('2026 Marram Lamps') },
  { field: 'genre', label: t('Genre') },
];

/** Whether an edition may have a value of its own. */
const isOwnable = (field: TextField): field is 'title' | 'upc' | 'catalogNumber' | 'releaseDate' =>
  ['title', 'upc', 'catalogNumber', 'releaseDate'].includes(field);

function dateFault(text: string): string | undefined {
  return text.trim() === '' || /^\d{4}(-\d{2}(-\d{2})?)?$/.test(text.trim())
    ? undefined
    : t('Year, or year-month-day: 2026-11-09.');
}

/** A text as it is kept: a valid code in its one form, everything else as typed. */
const keptForm = (field: TextField, text: string): string =>
  field === 'upc' ? (parseEan(text) ?? text) : text;

/** Words and codes of the album itself. */
export function AlbumFields() {
  const { album, part, edit } = useAlbum('album', 'part', 'edit');
  const change = (field: TextField, label: string, text: string): void => {
    const kept = keptForm(field, text);
    if (kept !== album[field])
      edit(t('{label} “{album}” → “{kept}”', { label, album: album[field], kept }), (before: Album) => ({
        ...before,
        [field]: kept,
      }));
  };
  return (
    <div className="sleeve-fields">
      {FIELDS.map(({ field, label, placeholder, fault }) => (
        <Form.Group key={field} className={`sleeve-field ${field}`}>
          <Form.Label>{label}</Form.Label>
          {isOwnable(field) && <OwnField label={label} of={{ song: null, field }} />}
          <DraftField
            label={label}
            value={album[field]}
            keepFaulty
            onCommit={(text) => change(field, label, text)}
            {...(placeholder ? { placeholder } : {})}
            {...(fault ? { fault } : {})}
          />
          {field === 'upc' && <CheckDigit />}
        </Form.Group>
      ))}
      <Form.Group className="sleeve-field">
        <Form.Label>{t('CD-Text genre')}</Form.Label>
        <Form.Select
          aria-label={t('CD-Text genre')}
          value={album.genreCode}
          onChange={({ target }) => {
            const genreCode = Number(target.value);
            edit(
              t('CD-Text genre → {genre}', { genre: CD_TEXT_GENRES[genreCode] ?? t('none') }),
              (before) => ({
                ...before,
                genreCode,
              }),
            );
          }}
        >
          {CD_TEXT_GENRES.map((name, code) => (
            <option key={code} value={code}>
              {say(name)}
            </option>
          ))}
        </Form.Select>
      </Form.Group>
      {part.of === 1 ? (
        <Form.Group className="sleeve-field">
          <Form.Label>{t('Disc')}</Form.Label>
          <span className="disc-of">
            {rich('<number></number> of <total></total>', {
              number: <DiscNumber field="discNumber" label={t('Disc number')} />,
              total: <DiscNumber field="discTotal" label={t('Total discs')} />,
            })}
          </span>
        </Form.Group>
      ) : (
        (['title', 'upc'] as const).map((field) => (
          <Form.Group key={field} className="sleeve-field">
            <Form.Label>
              {t('{field} of {part}', {
                field: field === 'title' ? t('Title') : t('UPC/EAN'),
                part: partName(part),
              })}
            </Form.Label>
            <PartField part={part} field={field} />
          </Form.Group>
        ))
      )}
      <Form.Group className="sleeve-field">
        <Form.Label>{t('Language')}</Form.Label>
        <DraftField
          label={t('Language')}
          value={album.language}
          placeholder="en"
          fault={(text) =>
            /^[a-z]{2,3}(-[A-Za-z0-9]+)*$/.test(text.trim())
              ? undefined
              : t('Enter a language code such as en, de or ja.')
          }
          onCommit={(language) =>
            edit(
              t('language {language} → {language2}', { language: album.language, language2: language }),
              (before) => ({ ...before, language }),
            )
          }
        />
      </Form.Group>
    </div>
  );
}

/** Where only the check digit is wrong, the right one is offered. */
function CheckDigit() {
  const { edit } = useAlbum('edit');
  const { open, subject } = useFindings();
  const finding = open.find(({ code }) => code === 'upc-malformed');
  const fix = finding && fixOf(finding, subject);
  if (!fix) return null;
  return (
    <Button size="sm" variant="link" className="check-digit" onClick={() => edit(say(fix.label), fix.change)}>
      {say(fix.label)}
    </Button>
  );
}

function DiscNumber({ field, label }: { field: 'discNumber' | 'discTotal'; label: string }) {
  const { album, edit } = useAlbum('album', 'edit');
  const numberOf = (text: string): number => (/^\d{1,3}$/.test(text.trim()) ? Number(text) : 0);
  return (
    <DraftField
      label={label}
      className="num"
      value={String(album[field])}
      fault={(text) => (numberOf(text) > 0 ? undefined : t('Enter a number from 1 to 999.'))}
      onCommit={(text) =>
        edit(t('{label}: {from} → {to}', { label, from: album[field], to: numberOf(text) }), (before) => ({
          ...before,
          [field]: numberOf(text),
        }))
      }
    />
  );
}
