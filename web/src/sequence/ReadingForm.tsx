import { cutSongs } from '@oiseau/formats/cutting';
import { formatClock, type Ticks } from '@oiseau/audio/time';
import { spreadOver, spreadSongs, withSpread } from '@oiseau/album/edits';
import type { Album, Medium } from '@oiseau/album/model';
import { useMemo, useState } from 'react';
import { Button } from 'react-bootstrap';
import { useAlbum } from '../album/AlbumContext.js';
import { NumberFields, type NumberSpec } from '../ui/NumberFields.js';
import { useReading, type ReadingWish } from './useReading.js';
import { t } from '../ui/messages.js';

interface ReadingFormProps {
  readonly medium: Medium;
  /** The maximum length of a part, and whether it was set by hand. */
  readonly most: Ticks;
  readonly own: Ticks | null;
  /** How many parts there are to be at the least. */
  readonly least: number;
}

type Spread = ReturnType<typeof spreadOver>;

const WISH: ReadingWish = { about: 5, least: 2, under: 35, shortestSilence: 0.4 };

const fieldsOf = ({ about }: ReadingWish): readonly NumberSpec<keyof ReadingWish>[] => [
  { name: 'about', label: t('tracks of about'), unit: 'min', least: 0.5, most: 60 },
  { name: 'least', label: t('never under'), unit: 'min', least: 0, most: about },
  { name: 'under', label: t('silence: under the loudness by'), unit: 'dB', least: 10, most: 70 },
  { name: 'shortestSilence', label: t('for at least'), unit: 's', least: 0.1, most: 20 },
];

/** A reading of many hours, a concert: cut into tracks of about a length in its silences, and spread over parts. Folded away where no song is long. */
export function ReadingForm({ medium, most, own, least }: ReadingFormProps) {
  const { album, facts, edit } = useAlbum('album', 'facts', 'edit');
  const [wish, setWish] = useState(WISH);
  const [opened, setOpened] = useState(false);
  const { long, cuts, done, waiting } = useReading(wish);
  // As the album would be: cut, and then spread.
  const cut = useMemo(() => {
    let n = 0;
    return cuts && cutSongs(album, cuts, () => `cut ${++n}`);
  }, [album, cuts]);
  const spread = useMemo(
    () => cut && spreadOver(spreadSongs(cut, facts), medium, most, least),
    [cut, facts, medium, most, least],
  );
  if (!opened && long.length === 0)
    return (
      <Button variant="link" className="p-0" onClick={() => setOpened(true)}>
        {t('Cut a long reading or concert into tracks …')}
      </Button>
    );
  const set = (change: Partial<ReadingWish>): void => setWish({ ...wish, ...change });
  const tracks = (cut?.songs.length ?? 0) - album.songs.length + long.length;
  const take = (withParts: boolean): void => {
    if (!cuts) return;
    edit(
      t(
        '{tracks, plural, one {# track} other {# tracks}} cut from {count, plural, one {# recording} other {# recordings}}',
        { tracks, count: long.length },
      ),
      (before) => {
        const made = cutSongs(before, cuts, () => crypto.randomUUID());
        const found = spreadOver(spreadSongs(made, facts), medium, most, least);
        return withParts && 'parts' in found ? withSpread(made, found, medium, own) : made;
      },
    );
  };
  return (
    <section className="spread" aria-label={t('Cut long recordings')}>
      <h3>
        {long.length === 0
          ? t('No recording is long enough to cut into two tracks')
          : t('Cut {count, plural, one {the long recording} other {# long recordings}} at silences', {
              count: long.length,
            })}
      </h3>
      <div className="spread-head">
        <NumberFields fields={fieldsOf(wish)} values={wish} onChange={set} />
      </div>
      <Outcome {...{ cut, spread, tracks, long: long.length, done, waiting }} />
      <Button
        variant="outline-primary"
        disabled={long.length === 0 || !spread || !('parts' in spread)}
        onClick={() => take(true)}
      >
        {t('Cut and distribute')}
      </Button>{' '}
      <Button variant="link" disabled={cut === null} onClick={() => take(false)}>
        {t('Cut on one disc')}
      </Button>
    </section>
  );
}

/** What would come of it, or how far the search is. */
function Outcome({
  cut,
  spread,
  tracks,
  long,
  done,
  waiting,
}: {
  readonly cut: Album | null;
  readonly spread: Spread | null;
  /** How many tracks there would be. */
  readonly tracks: number;
  /** How many recordings are long, searched, and not measured yet. */
  readonly long: number;
  readonly done: number;
  readonly waiting: number;
}) {
  return (
    <p role="status">
      {waiting > 0 &&
        `${t('{waiting, plural, one {# recording is} other {# recordings are}} not measured yet.', { waiting })} `}
      {cut === null
        ? waiting < long &&
          t('Searching for silences: {done} of {long, plural, one {# recording} other {# recordings}} …', {
            done,
            long,
          })
        : long > 0 && t('Result: {tracks, plural, one {# track} other {# tracks}}', { tracks })}
      {spread && 'parts' in spread && ', '}
      {spread &&
        'parts' in spread &&
        t('on {count, plural, one {# part} other {# parts}} of at most {max}', {
          count: spread.parts.length,
          max: formatClock(Math.max(...spread.parts.map(({ length }) => length)) as Ticks),
        })}
      {spread && 'over' in spread && (
        <span className="text-danger">
          {'; '}
          {t('{count, plural, one {# is} other {# are}} longer than a part. Allow shorter silences', {
            count: spread.over.length,
          })}
        </span>
      )}
      {cut !== null && '.'}
    </p>
  );
}
