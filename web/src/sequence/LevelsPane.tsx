import { albumLoudness, editRegion } from '@oiseau/album/edits';
import { Headphones } from 'lucide-react';
import { Button, CloseButton, Form } from 'react-bootstrap';
import { useAlbum } from '../album/AlbumContext.js';
import { useShortcuts } from '../ui/useShortcuts.js';
import { NumberField } from '../ui/NumberField.js';
import { formatDb } from '../ui/format.js';
import { changeWords } from './change-words.js';
import { LevelRow, levelShare } from './LevelRow.js';
import { useLevels, type Levels } from './useLevels.js';
import { useLevelsHeard } from './useLevelsHeard.js';
import { t } from '../ui/messages.js';

/**
 * Loudness and true peak of all tracks in one picture, and gains that would match them, shown before they are taken. It stands under the
 * Skyline in the place of the track table: everything is heard, dragged and undone as ever.
 */
export function LevelsPane({ chosen, onHide }: { chosen: string; onHide: () => void }) {
  const levels = useLevels(chosen);
  const hearing = useLevelsHeard(levels.gains);
  useShortcuts({ L: hearing.toggle }, true);
  // A drag takes Escape for itself first.
  useShortcuts({ Escape: onHide });
  const take = (): void => {
    levels.take();
    onHide();
  };
  return (
    <section className="levels-pane" aria-labelledby="levels-title">
      <header>
        <h3 id="levels-title">{t('Levels')}</h3>
        <CloseButton aria-label={t('Close levels')} title={t('Close levels (Esc)')} onClick={onHide} />
      </header>
      <LevelsHead levels={levels} />
      <LevelsTable levels={levels} />
      <footer>
        <Button
          variant={hearing.playing ? 'primary' : 'outline-primary'}
          title={t('Play the loudest passages of all tracks, one after another (L)')}
          onClick={hearing.toggle}
        >
          <Headphones size={16} aria-hidden /> {hearing.playing ? t('Stop') : t('Play the loudest passages')}
        </Button>
        <Form.Check
          id="levels-matched"
          label={t('with new gain')}
          checked={hearing.matched}
          onChange={({ target }) => hearing.setMatched(target.checked)}
        />
        <span className="flex-grow-1" />
        <Button variant="outline-primary" onClick={onHide}>
          {t('Cancel')}
        </Button>
        <Button disabled={levels.changed === 0} onClick={take}>
          {t('Change {changed, plural, one {# gain} other {# gains}}', { changed: levels.changed })}
        </Button>
      </footer>
    </section>
  );
}

/** What the levels are matched to. */
function LevelsHead({ levels }: { levels: Levels }) {
  const { tracks, reference, setReference, ceiling, setCeiling } = levels;
  return (
    <div className="levels-head">
      <label>
        <span>{t('Match to')}</span>
        <Form.Select size="sm" value={reference} onChange={({ target }) => setReference(target.value)}>
          {tracks.map(({ id, title }, i) => (
            <option key={id} value={id}>
              {i + 1} {title || t('Untitled')}
            </option>
          ))}
        </Form.Select>
      </label>
      <NumberField
        label={t('Peak limit')}
        unit="dBTP"
        value={ceiling}
        least={-12}
        most={0}
        onChange={setCeiling}
      />
      <p className="text-secondary">
        {t(
          'Drag a level or type its gain. Peaks are never normalised: a peak says little about how loud a track is.',
        )}
      </p>
    </div>
  );
}

function LevelsTable({ levels: of }: { levels: Levels }) {
  const { edit } = useAlbum('edit');
  const { tracks, levels, gains, forecasts, isLimited, limit, setDraft } = of;
  return (
    <table className="table levels">
      <thead>
        <tr>
          <th className="num">{t('No.')}</th>
          <th>{t('Title')}</th>
          <th className="picture">
            <span className="level-key now" /> {t('loudness now')} <span className="level-key then" />{' '}
            {t('matched')} <span className="level-key peak" /> {t('true peak')}
          </th>
          <th className="num">{t('Loudness')}</th>
          <th className="num">{t('True peak')}</th>
          <th className="num">{t('Gain')}</th>
          <th className="num">{t('New gain')}</th>
        </tr>
      </thead>
      <tbody>
        {tracks.map(({ id, title }, i) => {
          const level = levels[i];
          return (
            level && (
              <LevelRow
                key={id}
                number={i + 1}
                title={title}
                level={level}
                gain={gains[i] ?? level.gainDb}
                forecast={forecasts[i] ?? null}
                limited={isLimited(i)}
                onLimit={(on) => limit(id, on)}
                onDraft={(gainDb) => setDraft(gainDb === null ? null : { id, gainDb })}
                onGain={(gainDb) => {
                  setDraft(null);
                  edit(changeWords, (before) => editRegion(before, id, { gainDb }));
                }}
              />
            )
          );
        })}
      </tbody>
      <AlbumLevel levels={of} />
    </table>
  );
}

function AlbumLevel({ levels: { levels, matched } }: { levels: Levels }) {
  const [now, then] = [albumLoudness(levels), albumLoudness(matched)];
  return (
    <tfoot>
      <tr>
        <td />
        <th scope="row">{t('The album')}</th>
        <td className="picture">
          <span className="level-now" style={{ width: `${levelShare(now)}%` }} />
          <span className="level-then" style={{ left: `${levelShare(then)}%` }} />
        </td>
        <td className="num">{formatDb(now)} LUFS</td>
        <td />
        <td />
        <td className="num">{formatDb(then)} LUFS</td>
      </tr>
    </tfoot>
  );
}
