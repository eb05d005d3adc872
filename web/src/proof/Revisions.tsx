import { compareAlbums } from '@oiseau/album/compare';
import { useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import { useMay } from '../access/VisitorContext.js';
import { useAlbum } from '../album/AlbumContext.js';
import { useTakeBack } from '../album/useTakeBack.js';
import { useRevision, useRevisions } from '../api/queries.js';
import { formatWhen } from '../ui/format.js';
import { useNotices } from '../ui/Notices.js';

/** The album as it stands, beside the numbered revisions. */
const NOW = 0;

/** Two states of the album laid side by side in words; an older one can be brought back. */
export function Revisions() {
  const { id, album, facts, mastersById, edit } = useAlbum('id', 'album', 'facts', 'mastersById', 'edit');
  const { tell } = useNotices();
  const undoOf = useTakeBack();
  const revisions = useRevisions(id);
  const works = useMay('work');
  const [from, setFrom] = useState<number | null>(null);
  const [to, setTo] = useState(NOW);
  const older = from ?? revisions[0]?.number ?? null;
  const before = useRevision(id, older ?? NOW);
  const later = useRevision(id, to);
  const after = to === NOW ? album : later?.album;
  if (revisions.length === 0) return null;
  const known = new Map([
    ...Object.entries({ ...before?.masters, ...later?.masters }),
    ...[...mastersById].map(([sha, { info }]) => [sha, info] as const),
    ...facts,
  ]);
  const changes = before && after ? compareAlbums(before.album, after, known) : null;
  const name = (number: number): string => (number === NOW ? 'current album' : `revision ${number}`);
  const bringBack = (): void => {
    if (!before || older === null) return;
    const step = edit(`revision ${older} restored`, () => before.album);
    tell(`Revision ${older} was restored.`, undoOf(step));
  };
  const options = revisions.map(({ number, createdAt, made }) => (
    <option key={number} value={number} title={made ? `numbered by Oiseau ${made.oiseau}` : undefined}>
      revision {number}, {formatWhen(createdAt, new Date())}
      {made && `, Oiseau ${made.oiseau}`}
    </option>
  ));
  return (
    <section className="revisions" aria-label="Compare revisions">
      <h3>Compare revisions</h3>
      <div className="revision-choice">
        <span>from</span>
        <Form.Select
          size="sm"
          aria-label="Older state"
          value={older ?? ''}
          onChange={({ target }) => setFrom(Number(target.value))}
        >
          {options}
        </Form.Select>
        <span>to</span>
        <Form.Select
          size="sm"
          aria-label="Newer state"
          value={to}
          onChange={({ target }) => setTo(Number(target.value))}
        >
          <option value={NOW}>current album</option>
          {options}
        </Form.Select>
        {works && (
          <Button size="sm" variant="outline-primary" disabled={!before} onClick={bringBack}>
            Restore revision {older}
          </Button>
        )}
      </div>
      {changes &&
        (changes.length === 0 ? (
          <p className="text-secondary">
            No differences between {name(older ?? NOW)} and {name(to)}.
          </p>
        ) : (
          <ul className="change-list">
            {changes.map((change) => (
              <li key={change}>{change}</li>
            ))}
          </ul>
        ))}
    </section>
  );
}
