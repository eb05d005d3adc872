import { addOverride, editionDifferences, removeOverride, type EditionDifference } from '@oiseau/album/edits';
import { songOf, type Album } from '@oiseau/album/model';
import { useMemo } from 'react';
import { Button } from 'react-bootstrap';
import { useMay } from '../access/VisitorContext.js';
import { useAlbum } from '../album/AlbumContext.js';
import { DraftField } from '../ui/DraftField.js';
import { t } from '../ui/messages.js';
import { FIELD_WORDS, isTextField, valueWords } from './difference-words.js';
import { OwnFieldForm } from './OwnFieldForm.js';
import type { LaidOutEdition } from './useLaidOutEditions.js';

/** Rows that are drawn at first: an album of 99 tracks and 50 editions has thousands. */
const MOST_ROWS = 300;

/** Everything that editions have of their own, each with its value, the album’s, and the way back to that. */
export function DifferenceTable({ editions }: { readonly editions: readonly LaidOutEdition[] }) {
  const whole = useAlbum('editing').editing.album;
  const rows = useMemo(
    () =>
      editions.flatMap((of) =>
        editionDifferences(whole, of.edition).map((difference) => ({ of, difference })),
      ),
    [whole, editions],
  );
  return (
    <>
      <div className="view-head">
        <h3>{t('Differences')}</h3>
        <span className="text-secondary">
          {t('{count, plural, =0 {none} one {# value of its own} other {# values of their own}}', {
            count: rows.length,
          })}
        </span>
        <span className="flex-grow-1" />
        <OwnFieldForm editions={editions} />
      </div>
      <div className="table-scroll">
        <table className="table difference-table" aria-label={t('Differences')}>
          <thead>
            <tr>
              <th>{t('Edition')}</th>
              <th>{t('Track')}</th>
              <th>{t('Field')}</th>
              <th>{t('Value')}</th>
              <th>{t('Album')}</th>
              <th aria-label={t('Actions')} />
            </tr>
          </thead>
          <tbody>
            {rows.slice(0, MOST_ROWS).map(({ of, difference }) => (
              <DifferenceRow
                key={`${of.edition.name} ${difference.song ?? ''} ${difference.field}`}
                {...{ of, difference, whole }}
              />
            ))}
          </tbody>
        </table>
      </div>
      {rows.length > MOST_ROWS && (
        <p className="text-secondary">
          {t('{count, plural, one {# more value} other {# more values}} not listed.', {
            count: rows.length - MOST_ROWS,
          })}
        </p>
      )}
    </>
  );
}

function DifferenceRow({
  of: { edition, album },
  difference,
  whole,
}: {
  readonly of: LaidOutEdition;
  readonly difference: EditionDifference;
  readonly whole: Album;
}) {
  const { editWhole } = useAlbum('editWhole');
  const mayWork = useMay('work');
  const { name } = edition;
  const field = FIELD_WORDS[difference.field];
  const track = difference.song === null ? '' : (songOf(whole, difference.song)?.title ?? '');
  const own = valueWords(album, difference);
  const words = { field, edition: name };
  return (
    <tr>
      <td>{name}</td>
      <td>{difference.song === null ? '' : track || t('Untitled')}</td>
      <td>{field}</td>
      <td className="wide-value">
        {mayWork && isTextField(difference) ? (
          <DraftField
            label={t('{field} of edition “{edition}”', words)}
            className="plain"
            value={own === '–' ? '' : own}
            onCommit={(text) =>
              editWhole(t('{field} of edition “{edition}”', words), (before) =>
                withText(before, name, difference, text),
              )
            }
          />
        ) : (
          own
        )}
      </td>
      <td className="wide-value text-secondary">{valueWords(whole, difference)}</td>
      <td>
        {mayWork && (
          <Button
            size="sm"
            variant="link"
            onClick={() =>
              editWhole(t('{field} of edition “{edition}” as on the album', words), (before) =>
                removeOverride(before, name, difference),
              )
            }
          >
            {t('Use the album’s value')}
          </Button>
        )}
      </td>
    </tr>
  );
}

/** A text of its own that is typed in the table; an empty one is the album’s. */
function withText(album: Album, name: string, difference: EditionDifference, text: string): Album {
  const { song, field } = difference;
  if (text.trim() === '' && song === null) return removeOverride(album, name, difference);
  const kept = addOverride(album, name, difference);
  return {
    ...kept,
    editions: kept.editions.map((edition) => {
      if (edition.name !== name) return edition;
      if (song === null) return { ...edition, [field]: text };
      return {
        ...edition,
        tracks: { ...edition.tracks, [song]: { ...edition.tracks[song], [field]: text } },
      };
    }),
  };
}
