import { eanFault, editTrack, formatIsrc, isrcFault, parseEan, parseIsrc, type Album } from '@oiseau/core';
import { ImagePlus } from 'lucide-react';
import { useRef, useState } from 'react';
import { Button, Form, Table } from 'react-bootstrap';
import { useAlbum } from '../album/AlbumContext.js';
import { sendFile } from '../api/client.js';
import { Cover } from '../shelf/Cover.js';
import { DraftField } from '../ui/DraftField.js';
import { useNotices } from '../ui/Notices.js';
import { CodeShape, EAN_SHAPE, ISRC_SHAPE } from './CodeShape.js';

type TextField = 'title' | 'performer' | 'upc' | 'label' | 'catalogNumber' | 'releaseDate';

const ALBUM_FIELDS: readonly {
  field: TextField;
  label: string;
  placeholder?: string;
  fault?: (text: string) => string | undefined;
}[] = [
  { field: 'title', label: 'Album title' },
  { field: 'performer', label: 'Performer' },
  { field: 'upc', label: 'UPC/EAN', placeholder: '13 digits', fault: eanFault },
  { field: 'label', label: 'Label' },
  { field: 'catalogNumber', label: 'Catalogue number' },
  { field: 'releaseDate', label: 'Release date', placeholder: '2026-11-09', fault: dateFault },
];

function dateFault(text: string): string | undefined {
  return text.trim() === '' || /^\d{4}(-\d{2}(-\d{2})?)?$/.test(text.trim())
    ? undefined
    : 'Year, or year-month-day: 2026-11-09.';
}

/** A text as it is kept: a valid code in its one form, everything else as typed. */
function keptForm(field: TextField, text: string): string {
  return field === 'upc' ? (parseEan(text) ?? text) : text;
}

/** The words and codes of the album and its tracks. */
export function SleeveView() {
  const { album, edit } = useAlbum();
  const change = (field: TextField, label: string, text: string): void => {
    const kept = keptForm(field, text);
    if (kept !== album[field])
      edit(`${label} “${album[field]}” → “${kept}”`, (before: Album) => ({ ...before, [field]: kept }));
  };
  return (
    <div className="sleeve">
      <div className="view-head">
        <h2>Sleeve</h2>
      </div>
      <div className="sleeve-album">
        <CoverField />
        <div className="sleeve-fields">
          {ALBUM_FIELDS.map(({ field, label, placeholder, fault }) => (
            <Form.Group key={field} className={`sleeve-field ${field}`}>
              <Form.Label>{label}</Form.Label>
              <DraftField
                label={label}
                value={album[field]}
                keepFaulty
                onCommit={(text) => change(field, label.toLowerCase(), text)}
                {...(placeholder ? { placeholder } : {})}
                {...(fault ? { fault } : {})}
              />
            </Form.Group>
          ))}
          <p className="code-note" title="A UPC of 12 digits gets a leading 0">
            UPC/EAN <CodeShape parts={EAN_SHAPE} />
          </p>
          <p className="code-note" title="Typed with or without hyphens; one for each recording">
            ISRC <CodeShape parts={ISRC_SHAPE} />
          </p>
        </div>
      </div>
      <TrackTexts />
    </div>
  );
}

function CoverField() {
  const { album, edit } = useAlbum();
  const { complain } = useNotices();
  const input = useRef<HTMLInputElement>(null);
  const [busy, setBusy] = useState(false);
  const take = async (file: File): Promise<void> => {
    setBusy(true);
    try {
      const { sha256 } = await sendFile<{ sha256: string }>(
        `/pictures?name=${encodeURIComponent(file.name)}`,
        file,
      );
      edit('cover', (before) => ({ ...before, artwork: sha256 }));
    } finally {
      setBusy(false);
    }
  };
  return (
    <div className="sleeve-cover">
      <Cover artwork={album.artwork} title={album.title} />
      <input
        ref={input}
        type="file"
        accept="image/jpeg,image/png"
        hidden
        aria-label="Cover picture"
        onChange={({ target }) => {
          const file = target.files?.[0];
          target.value = '';
          if (file) take(file).catch(complain);
        }}
      />
      <Button size="sm" variant="outline-primary" disabled={busy} onClick={() => input.current?.click()}>
        <ImagePlus size={16} aria-hidden /> {album.artwork ? 'Another cover' : 'Choose a cover'}
      </Button>
    </div>
  );
}

function TrackTexts() {
  const { album, edit } = useAlbum();
  if (album.tracks.length === 0)
    return <p className="text-secondary">The tracks’ titles and codes stand here once masters are in.</p>;
  return (
    <Table className="sleeve-table">
      <thead>
        <tr>
          <th className="num">No.</th>
          <th>Title</th>
          <th>Performer</th>
          <th>ISRC</th>
        </tr>
      </thead>
      <tbody>
        {album.tracks.map((track, i) => {
          const keep = (words: string, text: Partial<typeof track>): void =>
            edit(`${words} of track ${i + 1}`, (before) => editTrack(before, track.id, text));
          return (
            <tr key={track.id}>
              <td className="num">{i + 1}</td>
              <td>
                <DraftField
                  label={`Title of track ${i + 1}`}
                  className="plain"
                  value={track.title}
                  placeholder="Untitled"
                  onCommit={(title) => keep('title', { title })}
                />
              </td>
              <td>
                <DraftField
                  label={`Performer of track ${i + 1}`}
                  className="plain"
                  value={track.performer}
                  placeholder={album.performer}
                  onCommit={(performer) => keep('performer', { performer })}
                />
              </td>
              <td className="isrc">
                <DraftField
                  label={`ISRC of track ${i + 1}`}
                  className="plain code"
                  value={isrcShown(track.isrc)}
                  placeholder="none yet"
                  fault={isrcFault}
                  keepFaulty
                  onCommit={(text) => keep('ISRC', { isrc: parseIsrc(text) ?? text })}
                />
              </td>
            </tr>
          );
        })}
      </tbody>
    </Table>
  );
}

const isrcShown = (text: string): string => {
  const isrc = parseIsrc(text);
  return isrc ? formatIsrc(isrc) : text;
};
