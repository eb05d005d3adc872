import type { SpacingSuggestion } from '@oiseau/album/edits';
import { songBefore, songOf } from '@oiseau/album/model';
import { parseTime, secondsToTicks, ticksToSeconds, type Ticks } from '@oiseau/audio/time';
import { Check, Headphones, X } from 'lucide-react';
import { Button, CloseButton, Form } from 'react-bootstrap';
import { useAlbum } from '../album/AlbumContext.js';
import { IconButton } from '../ui/IconButton.js';
import { DraftField } from '../ui/DraftField.js';
import { t } from '../ui/messages.js';
import { useShortcuts } from '../ui/useShortcuts.js';
import { secondsText } from './change-words.js';
import { useSpacing, type Spacing } from './useSpacing.js';

/** Gaps that are proposed from what is measured, each with its reason; nothing changes before one is accepted. */
export function SpacingPane({ onHide }: { readonly onHide: () => void }) {
  const spacing = useSpacing();
  const { rows, inHand, onlyUnheard, setOnlyUnheard, acceptAll } = spacing;
  useShortcuts(
    {
      ArrowDown: () => spacing.step(1),
      ArrowUp: () => spacing.step(-1),
      T: () => spacing.play(inHand),
      Enter: () => spacing.accept(inHand),
      X: () => spacing.skip(inHand),
      Escape: onHide,
    },
    true,
  );
  return (
    <section className="levels-pane spacing-pane" aria-labelledby="spacing-title">
      <header>
        <h3 id="spacing-title">{t('Suggested spacing')}</h3>
        <span className="text-secondary">{t('T plays, Enter accepts, X skips')}</span>
        <CloseButton aria-label={t('Close suggested spacing')} onClick={onHide} />
      </header>
      <div className="table-scroll">
        <table className="table" aria-label={t('Suggested spacing')}>
          <thead>
            <tr>
              <th>{t('Transition')}</th>
              <th className="num">{t('Gap')}</th>
              <th className="num">{t('Suggested')}</th>
              <th>{t('Reason')}</th>
              <th aria-label={t('Actions')} />
            </tr>
          </thead>
          <tbody>
            {rows.map((row) => (
              <SpacingRow key={row.song} row={row} spacing={spacing} />
            ))}
          </tbody>
        </table>
      </div>
      {rows.length === 0 && (
        <p className="text-secondary">{t('Nothing to suggest: every gap is settled.')}</p>
      )}
      <footer>
        <Form.Check
          id="spacing-unheard"
          label={t('only transitions not yet heard')}
          checked={onlyUnheard}
          onChange={({ target }) => setOnlyUnheard(target.checked)}
        />
        <span className="flex-grow-1" />
        <Button variant="outline-primary" onClick={onHide}>
          {t('Close')}
        </Button>
        <Button disabled={rows.length === 0} onClick={acceptAll}>
          {t('Accept {count, plural, one {# gap} other {# gaps}}', { count: rows.length })}
        </Button>
      </footer>
    </section>
  );
}

function SpacingRow({ row, spacing }: { readonly row: SpacingSuggestion; readonly spacing: Spacing }) {
  const { album } = useAlbum('album');
  const { song: id, gap } = row;
  const track = songOf(album, id);
  if (!track) return null;
  const title = track.title || t('Untitled');
  const isInHand = spacing.inHand === id;
  return (
    <tr className={isInHand ? 'in-hand' : ''} aria-current={isInHand || undefined}>
      <td>
        {t('{before} into {after}', { before: songBefore(album, id)?.title || t('Untitled'), after: title })}
      </td>
      <td className="num">{secondsText(track.region.gapBefore)}</td>
      <td className="num">
        <DraftField
          label={t('Suggested gap before “{title}”', { title })}
          className="plain num"
          value={secondsText(gap)}
          fault={(text) => ((parseTime(text) ?? -1) < 0 ? t('Enter a time such as 2.5 s.') : undefined)}
          onCommit={(text) => spacing.adjust(id, parseTime(text) ?? gap)}
        />
      </td>
      <td className="text-secondary">{reasonWords(row)}</td>
      <td className="finding-acts">
        <IconButton
          icon={Headphones}
          label={t('Play “{title}” with the suggested gap', { title })}
          onClick={() => spacing.play(id)}
        />
        <IconButton
          icon={Check}
          label={t('Accept the gap before “{title}”', { title })}
          onClick={() => spacing.accept(id)}
        />
        <IconButton icon={X} label={t('Skip “{title}”', { title })} onClick={() => spacing.skip(id)} />
      </td>
    </tr>
  );
}

/** Why a gap is as long as it is. */
function reasonWords({ basis, pause, tail, head, isOnBeat, gap }: SpacingSuggestion): string {
  if (basis === 'continues') return t('The tracks run into each other.');
  const figures = { pause: roundly(pause), silence: roundly(tail + head) };
  const isLongEnough = tail + head >= pause;
  if (isLongEnough && !isOnBeat) return t('The silence in the tracks, {silence}, is enough.', figures);
  const words =
    basis === 'habit'
      ? t('Your other transitions pause for {pause}; {silence} of it are silence in the tracks.', figures)
      : t('{pause} from sound to sound; {silence} of it are silence in the tracks.', figures);
  return isOnBeat && ticksToSeconds(gap) > 0 ? `${words} ${t('Starts on the beat.')}` : words;
}

/** To a tenth of a second. */
const roundly = (time: number): string =>
  secondsText(secondsToTicks(Math.round(10 * ticksToSeconds(time as Ticks)) / 10));
