import { compareAlbums } from '@oiseau/album/compare';
import { useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import { useMay } from '../access/VisitorContext.js';
import { useAlbum } from '../album/AlbumContext.js';
import { useTakeBack } from '../album/useTakeBack.js';
import { useRevision, useRevisions } from '../api/queries.js';
import { formatWhen } from '../ui/format.js';
import { useNotices } from '../ui/Notices.js';
import { say, t } from '../ui/messages.js';

/** The album as it stands, beside the numbered revisions. */
const NOW = 0;

/** Two states of the album laid side by side in words; an older one can be brought back. */
export function Revisions() {
  const { id, editing, facts, mastersById, editWhole } = useAlbum(
    ...(['id', 'editing', 'facts', 'mastersById', 'editWhole'] as const),
  );
  const { album } = editing;
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
  const name = (number: number): string =>
    number === NOW ? t('current album') : t('revision {number}', { number });
  const bringBack = (): void => {
    if (!before || older === null) return;
    const step = editWhole(t('revision {older} restored', { older }), () => before.album);
    tell(t('Revision {older} was restored.', { older }), undoOf(step));
  };
  const options = revisions.map(({ number, createdAt, made }) => (
    <option
      key={number}
      value={number}
      title={made ? t('numbered by Oiseau {oiseau}', { oiseau: made.oiseau }) : undefined}
    >
      {t('revision {number}, {when}', { number, when: formatWhen(createdAt, new Date()) })}
      {made && `, Oiseau ${made.oiseau}`}
    </option>
  ));
  return (
    <section className="revisions" aria-label={t('Compare revisions')}>
      <h3>{t('Compare revisions')}</h3>
      <div className="revision-choice">
        <span>{t('from')}</span>
        <Form.Select
          size="sm"
          aria-label={t('Older state')}
          value={older ?? ''}
          onChange={({ target }) => setFrom(Number(target.value))}
        >
          {options}
        </Form.Select>
        <span>{t('to')}</span>
        <Form.Select
          size="sm"
          aria-label={t('Newer state')}
          value={to}
          onChange={({ target }) => setTo(Number(target.value))}
        >
          <option value={NOW}>{t('current album')}</option>
          {options}
        </Form.Select>
        {works && (
          <Button size="sm" variant="outline-primary" disabled={!before} onClick={bringBack}>
            {t('Restore revision {older}', { older })}
          </Button>
        )}
      </div>
      {changes &&
        (changes.length === 0 ? (
          <p className="text-secondary">
            {t('No differences between {older} and {to}.', { older: name(older ?? NOW), to: name(to) })}
          </p>
        ) : (
          <ul className="change-list">
            {changes.map(say).map((change) => (
              <li key={change}>{change}</li>
            ))}
          </ul>
        ))}
    </section>
  );
}
