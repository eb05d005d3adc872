import {
  albumLoudness,
  editRegion,
  limiterForecast,
  matchedGains,
  type TrackLevel,
} from '@oiseau/album/edits';
import { intervalLength, ticksToSeconds } from '@oiseau/audio/time';
import { songOf } from '@oiseau/album/model';
import { Headphones } from 'lucide-react';
import { useState } from 'react';
import { Button, CloseButton, Form } from 'react-bootstrap';
import { useAlbum } from '../album/AlbumContext.js';
import { useHeardFigures } from '../album/SoundsContext.js';
import { useShortcuts } from '../ui/useShortcuts.js';
import { NumberField } from '../ui/NumberField.js';
import { count, formatDb } from '../ui/format.js';
import { changeWords } from './change-words.js';
import { LevelRow, levelShare } from './LevelRow.js';
import { useOutlines } from './Outlines.js';
import { useLevelsHeard } from './useLevelsHeard.js';

/** Of a limiter that is set here, ms. */
const LIMITER_RELEASE_MS = 100;

/**
 * Loudness and true peak of all tracks in one picture, and gains that would match them, shown before they are taken. It stands under the
 * Skyline in the place of the ledger: everything is heard, dragged and undone as ever.
 */
export function LevelsPane({ chosen, onHide }: { chosen: string; onHide: () => void }) {
  const { album, part, edit } = useAlbum('album', 'part', 'edit');
  const figures = useHeardFigures();
  const outlines = useOutlines();
  const { tracks } = part;
  const [reference, setReference] = useState(chosen);
  const [ceiling, setCeiling] = useState(-1);
  const [limited, setLimited] = useState<ReadonlySet<string>>(new Set());
  const [draft, setDraft] = useState<{ readonly id: string; readonly gainDb: number } | null>(null);
  const levels = tracks.map(({ id, region }): TrackLevel => {
    const heard = figures.get(id);
    const before = (figure: number | null | undefined): number | null =>
      figure == null ? null : figure - region.gainDb;
    const placed = part.placement.songs.get(id);
    return {
      // Matching tells of a level before its gain; of what a compressor or limiter makes of it nobody knows before it is measured again.
      integratedLufs: before(heard?.integratedLufs),
      truePeakDbtp: before(heard?.truePeakDbtp),
      isLimited: (album.sound.limiter ?? region.sound.limiter)?.ceiling !== undefined,
      gainDb: draft?.id === id ? draft.gainDb : region.gainDb,
      length: placed ? ticksToSeconds(intervalLength(placed)) : 0,
    };
  });
  const model = tracks.findIndex(({ id }) => id === reference);
  const reachable = matchedGains(levels, model, ceiling);
  const forecasts = tracks.map(({ id, region }, i) => {
    const [level, of, outline] = [levels[i], levels[model], outlines.get(region.master)];
    return id === reference || !level || !of || !outline
      ? null
      : limiterForecast(level, of, ceiling, outline);
  });
  const isLimited = (i: number): boolean => Boolean(forecasts[i]) && limited.has(tracks[i]?.id ?? '');
  const gains = reachable.map((gain, i) => (isLimited(i) ? (forecasts[i]?.gainDb ?? gain) : gain));
  const matched = levels.map((level, i) => ({ ...level, gainDb: gains[i] ?? level.gainDb }));
  const hearing = useLevelsHeard(gains);
  useShortcuts({ L: hearing.toggle }, true);
  // A drag takes Escape for itself first.
  useShortcuts({ Escape: onHide });
  const changed = levels.filter(({ gainDb }, i) => gains[i] !== gainDb).length;
  const take = (): void => {
    const title = songOf(part, reference)?.title ?? '';
    edit(`loudness of ${count(changed, 'track')} matched to “${title}”`, (before) =>
      tracks.reduce((matching, { id, region }, i) => {
        const sound = isLimited(i)
          ? { ...region.sound, limiter: { drive: 0, ceiling, release: LIMITER_RELEASE_MS } }
          : region.sound;
        return editRegion(matching, id, { gainDb: gains[i] ?? region.gainDb, sound });
      }, before),
    );
    onHide();
  };
  return (
    <section className="levels-pane" aria-labelledby="levels-title">
      <header>
        <h3 id="levels-title">Levels</h3>
        <CloseButton aria-label="Close the levels" title="Close the levels (Esc)" onClick={onHide} />
      </header>
      <div className="levels-head">
        <label>
          <span>As loud as</span>
          <Form.Select size="sm" value={reference} onChange={({ target }) => setReference(target.value)}>
            {tracks.map(({ id, title }, i) => (
              <option key={id} value={id}>
                {i + 1} {title || 'Untitled'}
              </option>
            ))}
          </Form.Select>
        </label>
        <NumberField
          label="no peak over"
          unit="dBTP"
          value={ceiling}
          least={-12}
          most={0}
          onChange={setCeiling}
        />
        <p className="text-secondary">
          Drag a level, or type its gain. Nothing is normalised: that would bring every peak to the same
          height, which says nothing of how loud a song is, and only lifts its noise.
        </p>
      </div>
      <table className="table levels">
        <thead>
          <tr>
            <th className="num">No.</th>
            <th>Title</th>
            <th className="picture">
              <span className="level-key now" /> loudness now <span className="level-key then" /> matched{' '}
              <span className="level-key peak" /> true peak
            </th>
            <th className="num">Loudness</th>
            <th className="num">True peak</th>
            <th className="num">Gain</th>
            <th className="num">would be</th>
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
                  onLimit={(on) =>
                    setLimited(new Set([...limited].filter((each) => each !== id).concat(on ? [id] : [])))
                  }
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
        <tfoot>
          <tr>
            <td />
            <th scope="row">The album</th>
            <td className="picture">
              <span className="level-now" style={{ width: `${levelShare(albumLoudness(levels))}%` }} />
              <span className="level-then" style={{ left: `${levelShare(albumLoudness(matched))}%` }} />
            </td>
            <td className="num">{formatDb(albumLoudness(levels))} LUFS</td>
            <td />
            <td />
            <td className="num">{formatDb(albumLoudness(matched))} LUFS</td>
          </tr>
        </tfoot>
      </table>
      <footer>
        <Button
          variant={hearing.playing ? 'primary' : 'outline-primary'}
          title="The loudest moments of all songs, one after the other (L)"
          onClick={hearing.toggle}
        >
          <Headphones size={16} aria-hidden /> {hearing.playing ? 'Stop' : 'Hear the loudest moments'}
        </Button>
        <Form.Check
          id="levels-matched"
          label="as they would be"
          checked={hearing.matched}
          onChange={({ target }) => hearing.setMatched(target.checked)}
        />
        <span className="flex-grow-1" />
        <Button variant="outline-primary" onClick={onHide}>
          Leave them as they are
        </Button>
        <Button disabled={changed === 0} onClick={take}>
          Change {count(changed, 'gain')}
        </Button>
      </footer>
    </section>
  );
}
