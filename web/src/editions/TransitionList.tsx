import { EarOff, Play } from 'lucide-react';
import { secondsText } from '../sequence/change-words.js';
import { formatDb } from '../ui/format.js';
import { t } from '../ui/messages.js';
import type { LaidOutEdition } from './useLaidOutEditions.js';
import type { Order, OrdersPlayback } from './useOrdersPlayback.js';

/** Transitions of one order that the other doesn’t have, with the steps in level and tempo from track to track. */
export function TransitionList({
  of,
  order,
  playback,
}: {
  readonly of: LaidOutEdition;
  readonly order: Order;
  readonly playback: OrdersPlayback;
}) {
  const { place } = playback;
  return (
    <table className="table order-table" aria-label={order.name}>
      <thead>
        <tr>
          <th aria-label={t('Play')} />
          <th>{order.name}</th>
          <th className="num">{t('Gap')}</th>
          <th className="num" title={t('Loudness of the later track less that of the earlier one, LU')}>
            {t('Level step')}
          </th>
          <th className="num" title={t('Tempo of the later track less that of the earlier one')}>
            {t('Tempo step')}
          </th>
        </tr>
      </thead>
      <tbody>
        {order.transitions.map(({ before, after }, i) => {
          const isNow = place?.name === order.name && place.index === i;
          const words = t('{before} into {after}', {
            before: before?.title || t('Untitled'),
            after: after.title || t('Untitled'),
          });
          return (
            <tr key={after.id} className={isNow ? 'in-hand' : ''} aria-current={isNow || undefined}>
              <td>
                <button
                  type="button"
                  className="number-button"
                  aria-label={t('Play {transition}', { transition: words })}
                  onClick={() => playback.play(order.name, i)}
                >
                  <Play size={14} aria-hidden />
                </button>
              </td>
              <td>
                {words}{' '}
                {of.unheard.has(after.id) && (
                  <span className="not-yet-heard" title={t('Not yet heard')}>
                    <EarOff size={13} aria-hidden />
                    <span className="visually-hidden">{t('Not yet heard')}</span>
                  </span>
                )}
              </td>
              <td className="num">{secondsText(after.region.gapBefore)}</td>
              <td className="num">{stepText(levelStep(of, before?.id, after.id), 1)}</td>
              <td className="num">
                {stepText(difference(before?.marks.tempo?.bpm, after.marks.tempo?.bpm), 0)}
              </td>
            </tr>
          );
        })}
        {order.transitions.length === 0 && (
          <tr>
            <td />
            <td colSpan={4} className="text-secondary">
              {t('None: both orders have the same transitions.')}
            </td>
          </tr>
        )}
      </tbody>
    </table>
  );
}

const difference = (from: number | null | undefined, to: number | null | undefined): number | null =>
  from == null || to == null ? null : to - from;

const levelStep = ({ figures }: LaidOutEdition, before: string | undefined, after: string): number | null =>
  difference(
    before === undefined ? null : figures.get(before)?.integratedLufs,
    figures.get(after)?.integratedLufs,
  );

/** With its sign; a dash where it is not known. */
const stepText = (step: number | null, digits: number): string =>
  step === null ? '–' : `${step > 0 ? '+' : ''}${formatDb(step, digits, 0)}`;
