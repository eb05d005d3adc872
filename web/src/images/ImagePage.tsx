import { albumFromImage, ImageUnusable } from '@oiseau/formats/cutting';
import { compareImage, pqSheet, type DiscImage } from '@oiseau/formats/disc';
import { isDisc, layOutAlbum, type DiscPart } from '@oiseau/album/layout';
import type { Album, MasterFactsByKey, MasterFacts } from '@oiseau/album/model';
import { SAMPLES_PER_FRAME } from '@oiseau/audio/time';
import { useQuery } from '@tanstack/react-query';
import { CircleCheck, CircleX } from 'lucide-react';
import { useMemo, useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import { Link, useNavigate, useParams } from 'react-router';
import { call } from '../api/client.js';
import { useRevision, useRevisions, useAllAlbums } from '../api/queries.js';
import { CONTRACT } from '@oiseau/api';
import { PqTable } from '../checks/PqTable.js';
import { Loading } from '../ui/Loading.js';
import { useNotices } from '../ui/Notices.js';
import { t } from '../ui/messages.js';

/** A third-party disc image: checked, listed, compared, imported. */
export function ImagePage() {
  const { id = '' } = useParams();
  const { data, error } = useQuery({
    queryKey: ['image', id],
    queryFn: () => call(CONTRACT.image, { params: { id } }),
    staleTime: Infinity,
  });
  return (
    <main className="shelf image-page">
      <header className="shelf-header">
        <h1>{t('Disc image')}</h1>
        <span className="flex-grow-1" />
        <Link className="btn btn-outline-primary" to="/">
          {t('Back to the Shelf')}
        </Link>
      </header>
      {error ? (
        <p role="alert" className="text-danger">
          {error.message}
        </p>
      ) : data ? (
        <Judged id={id} image={data.image} />
      ) : (
        <Loading>{t('Reading the image')}</Loading>
      )}
    </main>
  );
}

/** Stands for the image's audio while it is not taken in: it lasts from its first frame to the lead-out. */
const IMAGE_MASTER = 'image';
function imageFacts({ leadOut, audio }: DiscImage): Map<string, MasterFacts> {
  const sectors = (leadOut ?? 0) - (audio?.from ?? 0);
  return new Map([[IMAGE_MASTER, { rate: 44_100, length: Math.max(0, sectors) * SAMPLES_PER_FRAME }]]);
}

/** The image as an album, or why it can be none. */
function asAlbum(image: DiscImage): Album | string {
  try {
    return albumFromImage(image, IMAGE_MASTER, (index) => `image-${index}`);
  } catch (error) {
    if (error instanceof ImageUnusable) return error.message;
    throw error;
  }
}

function Judged({ id, image }: { id: string; image: DiscImage }) {
  const navigate = useNavigate();
  const { complain } = useNotices();
  const [busy, setBusy] = useState(false);
  const album = useMemo(() => asAlbum(image), [image]);
  const { problems } = image;
  const right = problems.length === 0;
  const Icon = right ? CircleCheck : CircleX;
  const takeIn = async (): Promise<void> => {
    setBusy(true);
    try {
      const made = await call(CONTRACT.takeImage, { params: { id } });
      await navigate(`/albums/${made.id}/sequence`);
    } finally {
      setBusy(false);
    }
  };
  return (
    <>
      <p className={right ? 'verdict' : 'verdict failed'} role="status">
        <Icon size={22} aria-hidden />
        <strong>
          {right
            ? t('No errors.')
            : t('{count, plural, one {# fault} other {# faults}}.', { count: problems.length })}
        </strong>{' '}
        {right &&
          (image.kind === 'ddp'
            ? t('Sizes, marks, codes, text and checksums agree.')
            : t('The cue sheet and its image agree.'))}
      </p>
      {!right && (
        <ul aria-label={t('Errors')}>
          {problems.map((problem) => (
            <li key={problem}>{problem}</li>
          ))}
        </ul>
      )}
      {typeof album === 'string' ? (
        <p className="text-danger">{album}</p>
      ) : (
        <>
          <div className="view-head">
            <h2>{t('PQ sheet')}</h2>
            <span className="flex-grow-1" />
            <Button disabled={busy} onClick={() => takeIn().catch(complain)}>
              {t('Import as a new album')}
            </Button>
          </div>
          <PqTable sheet={pqSheet(album, discOf(album, imageFacts(image)))} />
          <Compared image={image} />
        </>
      )}
    </>
  );
}

/** The disc of an album: an image is always of one. */
function discOf(album: Album, facts: MasterFactsByKey): DiscPart {
  const disc = layOutAlbum(album, facts).find(isDisc);
  if (!disc) throw new RangeError(t('The album has no disc.'));
  return disc;
}

/** The image laid against a revision of an album on the Shelf. */
function Compared({ image }: { image: DiscImage }) {
  const shelf = useAllAlbums().data ?? [];
  const [chosen, setChosen] = useState('');
  const [number, setNumber] = useState(0);
  const revisions = useRevisions(chosen);
  const revision = number || revisions[0]?.number || 0;
  const other = useRevision(chosen, revision);
  const changes = useMemo(
    () =>
      other && compareImage(other.album, discOf(other.album, new Map(Object.entries(other.masters))), image),
    [other, image],
  );
  return (
    <section className="revisions" aria-label={t('Compare with a revision')}>
      <h3>{t('Compare with a revision')}</h3>
      <div className="revision-choice">
        <Form.Select
          size="sm"
          aria-label={t('Album to compare with')}
          value={chosen}
          onChange={({ target }) => {
            setChosen(target.value);
            setNumber(0);
          }}
        >
          <option value="">{t('Choose an album')}</option>
          {shelf.map(({ id, title }) => (
            <option key={id} value={id}>
              {title || t('Untitled album')}
            </option>
          ))}
        </Form.Select>
        {revisions.length > 0 && (
          <Form.Select
            size="sm"
            aria-label={t('Revision to compare with')}
            value={revision}
            onChange={({ target }) => setNumber(Number(target.value))}
          >
            {revisions.map((each) => (
              <option key={each.number} value={each.number}>
                {t('revision {number}', { number: each.number })}
              </option>
            ))}
          </Form.Select>
        )}
      </div>
      {chosen !== '' && revisions.length === 0 && (
        <p className="text-secondary">{t('This album has no revision yet because nothing was rendered.')}</p>
      )}
      {changes &&
        (changes.length === 0 ? (
          <p>{t('The image matches the revision: text, codes and all times.')}</p>
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
