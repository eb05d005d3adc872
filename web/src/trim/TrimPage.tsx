import { secondsToTicks, ticks, ticksToSeconds, type Interval, type Ticks } from '@oiseau/audio/time';
import { ArrowLeft, Play } from 'lucide-react';
import { useMemo, useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import { Link } from 'react-router';
import { useAlbum } from '../album/AlbumContext.js';
import { useTakeBack } from '../album/useTakeBack.js';
import { numberedName } from '../album/song-name.js';
import { useSilhouettes } from '../api/queries.js';
import { NumberFields } from '../ui/NumberFields.js';
import { masterGuest, type Guest } from '../player/guest.js';
import { useGuest } from '../album/PlayerContext.js';
import { useNotices } from '../ui/Notices.js';
import { useStored } from '../ui/useStored.js';
import { applyTrims, hasNews, trimRows, type TrimRow } from './trim-rows.js';
import { t } from '../ui/messages.js';
import { clockText, formatNumber } from '../ui/format.js';

/** How much of a head and of a tail is heard. */
const HEARD = secondsToTicks(5);

interface Settings {
  readonly thresholdDb: number;
  readonly head: number;
  readonly tail: number;
}
const FIELDS = [
  { name: 'thresholdDb', label: t('Threshold'), unit: 'dBFS', least: -96, most: -10 },
  { name: 'head', label: t('Keep before the sound'), unit: 's', least: 0, most: 10 },
  { name: 'tail', label: t('Keep after the sound'), unit: 's', least: 0, most: 30 },
] as const;
const FIRST: Settings = { thresholdDb: -60, head: 0.2, tail: 1.5 };

/** Where each track could start and end: heard first, then taken over for one or for all. */
export function TrimPage() {
  const { id, part, masters, mastersById, edit } = useAlbum('id', 'part', 'masters', 'mastersById', 'edit');
  const { tell } = useNotices();
  const undoOf = useTakeBack();
  const outlines = useSilhouettes(masters);
  const [settings, setSettings] = useStored<Settings>('oiseau-trim', FIRST);
  const [left, setLeft] = useState<ReadonlySet<string>>(new Set());
  const [guest, setGuest] = useState<Guest | null>(null);
  useGuest(guest);
  const rows = useMemo(
    () =>
      trimRows(part, outlines, {
        thresholdDb: settings.thresholdDb,
        headMargin: secondsToTicks(settings.head),
        tailMargin: secondsToTicks(settings.tail),
      }),
    [part, outlines, settings],
  );
  const accepted = rows.filter((row) => hasNews(row) && !left.has(row.id));
  const apply = (chosen: readonly TrimRow[]): void => {
    const step = edit(
      t('heads and tails of {count, plural, one {# track} other {# tracks}}', { count: chosen.length }),
      (before) => applyTrims(before, chosen),
    );
    tell(
      t('{count, plural, one {# track} other {# tracks}} trimmed; gaps and fades stay.', {
        count: chosen.length,
      }),
      undoOf(step),
    );
  };
  const hear = (row: TrimRow, edge: 'head' | 'tail'): void => {
    const master = mastersById.get(row.master);
    const region = row.suggested ?? row.now;
    const stretch: Interval<Ticks> =
      edge === 'head'
        ? { start: region.start, end: ticks(Math.min(region.end, region.start + HEARD)) }
        : { start: ticks(Math.max(region.start, region.end - HEARD)), end: region.end };
    if (master)
      setGuest({
        ...masterGuest(master, stretch, ticks(0)),
        name:
          edge === 'head'
            ? t('{title}: head as suggested', { title: row.title })
            : t('{title}: tail as suggested', { title: row.title }),
      });
  };
  const set = (change: Partial<Settings>): void => setSettings({ ...settings, ...change });
  return (
    <div className="trim-page">
      <div className="view-head">
        <Link to={`/albums/${id}/masters`} className="btn btn-link icon-button" aria-label={t('All masters')}>
          <ArrowLeft size={18} aria-hidden />
        </Link>
        <div className="master-name">
          <h2>{t('Trim heads and tails')}</h2>
          <span className="text-secondary">
            {t('Suggested start and end of each track. Nothing is trimmed until you apply it.')}
          </span>
        </div>
        <NumberFields fields={FIELDS} values={settings} onChange={set} />
        <Button disabled={accepted.length === 0} onClick={() => apply(accepted)}>
          {t('Trim {count, plural, one {# track} other {# tracks}}', { count: accepted.length })}
        </Button>
      </div>
      <table className="table trim-table">
        <thead>
          <tr>
            <th className="num">{t('No.')}</th>
            <th>{t('Title')}</th>
            <th className="num">{t('In')}</th>
            <th className="num">{t('would be')}</th>
            <th>{t('Head')}</th>
            <th className="num">{t('Out')}</th>
            <th className="num">{t('would be')}</th>
            <th>{t('Tail')}</th>
            <th>{t('Take')}</th>
          </tr>
        </thead>
        <tbody>
          {rows.map((row) => (
            <Row
              key={row.id}
              row={row}
              taken={!left.has(row.id)}
              onTake={(taken) => setLeft((before) => toggled(before, row.id, !taken))}
              onHear={(edge) => hear(row, edge)}
              onApply={() => apply([row])}
            />
          ))}
        </tbody>
      </table>
    </div>
  );
}

function toggled(set: ReadonlySet<string>, id: string, inside: boolean): ReadonlySet<string> {
  const next = new Set(set);
  if (inside) next.add(id);
  else next.delete(id);
  return next;
}

function Row({
  row,
  taken,
  onTake,
  onHear,
  onApply,
}: {
  row: TrimRow;
  taken: boolean;
  onTake: (taken: boolean) => void;
  onHear: (edge: 'head' | 'tail') => void;
  onApply: () => void;
}) {
  const { number, title, now, suggested, headCut, tailCut } = row;
  const name = numberedName(number);
  const news = hasNews(row);
  const cut = (edge: 'head' | 'tail', by: number, words: (seconds: string) => string) => (
    <span className="trim-edge">
      <button
        type="button"
        className="row-button"
        aria-label={
          edge === 'head' ? t('Play the head of {name}', { name }) : t('Play the tail of {name}', { name })
        }
        onClick={() => onHear(edge)}
      >
        <Play size={14} aria-hidden />
      </button>
      {by > 0 ? (
        words(formatNumber(ticksToSeconds(ticks(by)), 3))
      ) : (
        <span className="text-secondary">{t('unchanged')}</span>
      )}
    </span>
  );
  return (
    <tr aria-label={t('{name}: {title}', { name, title })} className={news && taken ? undefined : 'left-out'}>
      <td className="num">{number ?? '–'}</td>
      <td className="name">{title || t('Untitled')}</td>
      {suggested ? (
        <>
          <td className="num text-secondary">{clockText(now.start, 3)}</td>
          <td className="num">{headCut > 0 ? clockText(suggested.start, 3) : ''}</td>
          <td>{cut('head', headCut, (seconds) => t('{seconds} s off', { seconds }))}</td>
          <td className="num text-secondary">{clockText(now.end, 3)}</td>
          <td className="num">{tailCut > 0 ? clockText(suggested.end, 3) : ''}</td>
          <td>{cut('tail', tailCut, (seconds) => t('{seconds} s off', { seconds }))}</td>
        </>
      ) : (
        <td colSpan={6} className="text-secondary">
          {t('all of it is below the threshold')}
        </td>
      )}
      <td>
        {news && (
          <span className="trim-edge">
            <Form.Check
              aria-label={t('Include {name}', { name })}
              checked={taken}
              onChange={({ target }) => onTake(target.checked)}
            />
            <Button size="sm" variant="link" className="p-0" onClick={onApply}>
              {t('Trim only this')}
            </Button>
          </span>
        )}
      </td>
    </tr>
  );
}
