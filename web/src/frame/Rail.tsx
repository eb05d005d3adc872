import { isHandoverActive } from '@oiseau/api';
import { mayDo, type HandoverRecord } from '@oiseau/api';
import { isUntreated } from '@oiseau/audio/stages';
import { parseIsrc } from '@oiseau/formats/disc';
import { tracksOf, type Album } from '@oiseau/album/model';
import { BookOpen, type LucideIcon } from 'lucide-react';
import { memo } from 'react';
import { Link, NavLink } from 'react-router';
import { useMay, useVisitor } from '../access/VisitorContext.js';
import { isUnderWay, useDeliveries } from '../api/queries.js';
import { useFindings } from '../checks/FindingsContext.js';
import { useUploads } from '../masters/UploadContext.js';
import { Cover } from '../shelf/Cover.js';
import { useHandovers } from '../handover/queries.js';
import { standing } from '../handover/words.js';
import { useAlbum } from '../album/AlbumContext.js';
import { STEPS } from './steps.js';
import { t } from '../ui/messages.js';

/** The same element every time. */
const TO_SHELF = (
  <Link to="/" className="rail-shelf" title={t('Back to the Shelf')}>
    <BookOpen size={16} aria-hidden /> {t('Shelf')}
  </Link>
);

/** The cover and the steps, each with a quiet word on how it stands. */
export function Rail() {
  const { id, album } = useAlbum('id', 'album');
  const { role } = useVisitor();
  const signs = useSigns();
  return (
    <nav className="rail" aria-label={t('Steps of the album')}>
      {TO_SHELF}
      <Cover artwork={album.artwork} title={album.title} className="rail-cover" />
      <ol>
        {STEPS.filter(({ right }) => mayDo(role, right)).map(({ path, name, icon }) => (
          <li key={path}>
            <Step to={`/albums/${id}/${path}`} name={name} icon={icon} sign={signs[path]} />
          </li>
        ))}
      </ol>
    </nav>
  );
}

/** A step; drawn again when its word changes, and not with every edit. */
const Step = memo(function Step({
  to,
  name,
  icon: Icon,
  sign,
}: {
  readonly to: string;
  readonly name: string;
  readonly icon: LucideIcon;
  readonly sign: string | undefined;
}) {
  return (
    <NavLink to={to} title={name}>
      <Icon size={18} aria-hidden />
      <span className="rail-name">{name}</span>
      <span className="rail-sign">{sign}</span>
    </NavLink>
  );
});

/** `2 treated, album too` */
function soundSign({ songs, sound }: Album): string {
  const count = songs.filter(({ region }) => !isUntreated(region.sound)).length;
  const own = !isUntreated(sound);
  if (count > 0) return own ? t('{count} treated, album too', { count }) : t('{count} treated', { count });
  return own ? t('album treated') : t('untouched');
}

const SEVERITY_COUNT = {
  error: (count: number) => t('{count, plural, one {# error} other {# errors}}', { count }),
  warning: (count: number) => t('{count, plural, one {# warning} other {# warnings}}', { count }),
  hint: (count: number) => t('{count, plural, one {# hint} other {# hints}}', { count }),
};

/** `2 in progress`, `1 refused`, `r3 live` */
function handoverSign(handovers: readonly HandoverRecord[]): string {
  const onTheWay = handovers.filter(({ status }) => isHandoverActive(status)).length;
  if (onTheWay > 0) return t('{count} in progress', { count: onTheWay });
  const [last] = handovers;
  return last
    ? t('r{revision} {words}', { revision: last.revision, words: standing(last).words })
    : t('nothing yet');
}

/** What is not known yet has no word. */
function useSigns(): Readonly<Record<string, string | undefined>> {
  const { id, album, masters } = useAlbum('id', 'album', 'masters');
  const { uploads } = useUploads();
  const { open, known } = useFindings();
  const works = useMay('work');
  const knownDeliveries = useDeliveries(id).data;
  const deliveries = knownDeliveries ?? [];
  const arriving = uploads.filter(({ state }) => state === 'waiting' || state === 'sending').length;
  const tracks = tracksOf(album);
  const withoutCode = tracks.filter(({ isrc }) => !parseIsrc(isrc)).length;
  const found = (['error', 'warning', 'hint'] as const).flatMap((kind) => {
    const count = open.filter(({ severity }) => severity === kind).length;
    return count > 0 ? [SEVERITY_COUNT[kind](count)] : [];
  });
  const handovers = useHandovers(id, works).data;
  const running = deliveries.filter(isUnderWay);
  const newest = deliveries.filter(({ proof, revision }) => proof && revision === deliveries[0]?.revision);
  const percent = Math.round(
    100 *
      (running.reduce((sum, { progress }) => sum + (progress?.share ?? 0), 0) / Math.max(1, running.length)),
  );
  return {
    masters:
      arriving > 0
        ? t('{count} importing', { count: arriving })
        : masters.length > 0
          ? t('{count, plural, one {# file} other {# files}}', { count: masters.length })
          : t('none yet'),
    sequence:
      tracks.length > 0
        ? t('{count, plural, one {# track} other {# tracks}}', { count: tracks.length })
        : t('no tracks yet'),
    sound: tracks.length === 0 ? '–' : soundSign(album),
    sleeve:
      tracks.length === 0
        ? '–'
        : withoutCode > 0
          ? t('{count} without ISRC', { count: withoutCode })
          : t('all have an ISRC'),
    checks: tracks.length === 0 ? '–' : found.join(', ') || (known ? t('all clear') : undefined),
    render:
      running.length > 0
        ? t('{percent} % done', { percent })
        : deliveries.length > 0
          ? t('r{revision} rendered', { revision: deliveries[0]?.revision })
          : knownDeliveries && t('not rendered yet'),
    proof:
      newest.length === 0
        ? knownDeliveries && t('nothing yet')
        : newest.every(({ proof }) => proof?.proved)
          ? t('r{revision} verified', { revision: deliveries[0]?.revision })
          : t('failed verification'),
    handover: handovers && handoverSign(handovers),
  };
}
