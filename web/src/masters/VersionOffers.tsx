import { UNALIKE } from '@oiseau/album/edits';
import { RefreshCw } from 'lucide-react';
import { useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import { useAlbum } from '../album/AlbumContext.js';
import { playersOf, playersText } from '../album/song-name.js';
import { useVersionOffers } from './ArrivalsContext.js';
import { replacementRows } from './replacement.js';
import type { SoundedOffer } from './arrivals.js';
import { t } from '../ui/messages.js';

/** Files that look like newer versions of masters that are here: all of them in one table, with what would change, and one button. */
export function VersionOffers() {
  const { offers, settle } = useVersionOffers();
  const [left, setLeft] = useState<ReadonlySet<string>>(new Set());
  if (offers.length === 0) return null;
  // What sounds otherwise is chosen by a person alone.
  const isChosen = ({ newer, likeness }: SoundedOffer): boolean =>
    left.has(newer) !== (likeness === undefined || likeness === null || likeness >= UNALIKE);
  const chosen = offers.filter(isChosen);
  const others = offers.length - chosen.length;
  const turn = (newer: string): void => {
    const next = new Set(left);
    if (!next.delete(newer)) next.add(newer);
    setLeft(next);
  };
  return (
    <section className="version-offers" aria-label={t('Newer versions found')}>
      <p>
        <RefreshCw size={18} aria-hidden />{' '}
        <strong>
          {t(
            '{count, plural, one {One file looks} other {# files look}} like a newer version of a master in this album.',
            { count: offers.length },
          )}
        </strong>{' '}
        {t(
          'Tracks that use the older file will use the newer one and keep their trims, gaps and text. Previous versions are kept, and this can be undone.',
        )}
      </p>
      <table className="table">
        <thead>
          <tr>
            <th>{t('Replace')}</th>
            <th>{t('Newer file')}</th>
            <th>{t('Replaces')}</th> <th>{t('Used as')}</th>
            <th>{t('Changes')}</th>
            <th>{t('Sound')}</th>
          </tr>
        </thead>
        <tbody>
          {offers.map((offer) => (
            <OfferRow
              key={offer.newer}
              offer={offer}
              chosen={isChosen(offer)}
              onTurn={() => turn(offer.newer)}
            />
          ))}
        </tbody>
      </table>
      <Button size="sm" onClick={() => settle(chosen)}>
        {chosen.length === 0
          ? t('{count, plural, one {Add as a track} other {Add as # tracks}}', { count: others })
          : others > 0
            ? t(
                'Replace {count}, add the {others, plural, one {other as a track} other {others as tracks}}',
                { count: chosen.length, others },
              )
            : t('Replace {count}', { count: chosen.length })}
      </Button>
    </section>
  );
}

function OfferRow({
  offer: { newer, older, likeness },
  chosen,
  onTurn,
}: {
  readonly offer: SoundedOffer;
  readonly chosen: boolean;
  readonly onTurn: () => void;
}) {
  const { parts, mastersById } = useAlbum('parts', 'mastersById');
  const [after, before] = [mastersById.get(newer), mastersById.get(older)];
  if (!after || !before) return null;
  const changes = replacementRows(before, after).filter(
    ({ name, difference }) => difference !== null && name !== 'Format',
  );
  return (
    <tr>
      <td>
        <Form.Check
          checked={chosen}
          aria-label={t('Replace {name} by {name2}', { name: before.name, name2: after.name })}
          onChange={onTurn}
        />
      </td>
      <td className="file">{after.name}</td>
      <td className="file">{before.name}</td>
      <td>{playersText(playersOf(parts, older))}</td>
      <td>
        {after.measurement
          ? changes.length === 0
            ? t('no measured difference')
            : changes.map(({ name, difference }) => `${name}: ${difference}`).join('; ')
          : t('measuring …')}
      </td>
      <td>{soundWords(likeness)}</td>
    </tr>
  );
}

const soundWords = (likeness: number | null | undefined): string =>
  likeness === undefined
    ? '…'
    : likeness === null
      ? t('unknown')
      : likeness >= UNALIKE
        ? t('{percent} % similar', { percent: Math.round(100 * likeness) })
        : t('different');
