import {
  isUntreated,
  albumLoudness,
  editRegion,
  intervalLength,
  matchedGains,
  songOf,
  ticksToSeconds,
  type TrackLevel,
} from '@oiseau/core';
import { useState } from 'react';
import { Button, Form, Modal } from 'react-bootstrap';
import { useAlbum } from '../album/AlbumContext.js';
import { usePointerDrag } from '../ui/drag.js';
import { DraftField } from '../ui/DraftField.js';
import { NumberField } from '../ui/NumberField.js';
import { count, formatDb } from '../ui/format.js';
import { changeWords } from './change-words.js';
import { gainOf } from './ledger-fields.js';

/** The picture of levels reaches from here up to full scale, in dB. */
const FLOOR_DB = -40;

/** Loudness and true peak of all tracks in one picture, and gains that would match them, shown before they are taken. */
export function LevelsDialog({ chosen, onHide }: { chosen: string; onHide: () => void }) {
  const { part, mastersById, edit } = useAlbum('part', 'mastersById', 'edit');
  const { tracks } = part;
  const [reference, setReference] = useState(chosen);
  const [ceiling, setCeiling] = useState(-1);
  const [draft, setDraft] = useState<{ readonly id: string; readonly gainDb: number } | null>(null);
  const levels = tracks.map(({ id, region }): TrackLevel => {
    const measured = mastersById.get(region.master)?.measurement;
    // What was measured of a master says nothing of a song whose sound is treated.
    const measurement = isUntreated(region.sound) ? measured : null;
    const placed = part.placement.songs.get(id);
    return {
      integratedLufs: measurement?.integratedLufs ?? null,
      truePeakDbtp: measurement?.truePeakDbtp ?? null,
      gainDb: draft?.id === id ? draft.gainDb : region.gainDb,
      length: placed ? ticksToSeconds(intervalLength(placed)) : 0,
    };
  });
  const gains = matchedGains(
    levels,
    tracks.findIndex(({ id }) => id === reference),
    ceiling,
  );
  const matched = levels.map((level, i) => ({ ...level, gainDb: gains[i] ?? level.gainDb }));
  const changed = levels.filter(({ gainDb }, i) => gains[i] !== gainDb).length;
  const take = (): void => {
    const title = songOf(part, reference)?.title ?? '';
    edit(`loudness of ${count(changed, 'track')} matched to “${title}”`, (before) =>
      tracks.reduce(
        (matching, { id, region }, i) => editRegion(matching, id, { gainDb: gains[i] ?? region.gainDb }),
        before,
      ),
    );
    onHide();
  };
  return (
    <Modal show onHide={onHide} size="xl" scrollable aria-labelledby="levels-title">
      <Modal.Header closeButton>
        <Modal.Title id="levels-title">Levels</Modal.Title>
      </Modal.Header>
      <Modal.Body>
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
                  <Row
                    key={id}
                    number={i + 1}
                    title={title}
                    level={level}
                    gain={gains[i] ?? level.gainDb}
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
                <span className="level-now" style={{ width: `${share(albumLoudness(levels))}%` }} />
                <span className="level-then" style={{ left: `${share(albumLoudness(matched))}%` }} />
              </td>
              <td className="num">{formatDb(albumLoudness(levels))} LUFS</td>
              <td />
              <td />
              <td className="num">{formatDb(albumLoudness(matched))} LUFS</td>
            </tr>
          </tfoot>
        </table>
      </Modal.Body>
      <Modal.Footer>
        <Button variant="outline-primary" onClick={onHide}>
          Leave them as they are
        </Button>
        <Button disabled={changed === 0} onClick={take}>
          Change {count(changed, 'gain')}
        </Button>
      </Modal.Footer>
    </Modal>
  );
}

/** A drag of a level moves its gain by tenths of a decibel, within what a gain may be. */
const draggedGain = (from: number, pixels: number, width: number): number =>
  Math.max(-48, Math.min(24, Math.round(10 * (from - (pixels / width) * FLOOR_DB)) / 10));

/** A level that is dragged sideways: the gain follows, and Escape takes it back; the dialog stays. */
const useLevelDrag = (
  gainDb: number,
  onDraft: (gain: number | null) => void,
  onGain: (gain: number) => void,
) =>
  usePointerDrag<{ readonly from: number; to: number }, HTMLElement>({
    grab: () => ({ from: gainDb, to: gainDb }),
    move: (grip, by, { currentTarget }) => {
      grip.to = draggedGain(grip.from, by.x, currentTarget.clientWidth);
      onDraft(grip.to);
    },
    drop: ({ to }) => onGain(to),
    takeBack: () => onDraft(null),
  });

const share = (db: number | null): number =>
  db === null ? 0 : Math.max(0, Math.min(100, 100 * (1 - db / FLOOR_DB)));

function Row({
  number,
  title,
  level,
  gain,
  onDraft,
  onGain,
}: {
  number: number;
  title: string;
  level: TrackLevel;
  /** That would match it. */
  gain: number;
  onDraft: (gainDb: number | null) => void;
  onGain: (gainDb: number) => void;
}) {
  const { integratedLufs, truePeakDbtp, gainDb } = level;
  const withGain = (value: number | null, by: number): number | null => (value === null ? null : value + by);
  const peak = withGain(truePeakDbtp, gainDb);
  const drag = useLevelDrag(gainDb, onDraft, onGain);
  return (
    <tr>
      <td className="num">{number}</td>
      <td className="name">{title || 'Untitled'}</td>
      <td className="picture" title="Drag sideways to change the gain" {...drag}>
        <span className="level-now" style={{ width: `${share(withGain(integratedLufs, gainDb))}%` }} />
        <span className="level-then" style={{ left: `${share(withGain(integratedLufs, gain))}%` }} />
        <span className="level-peak" style={{ left: `${share(withGain(truePeakDbtp, gain))}%` }} />
      </td>
      <td className="num">{formatDb(withGain(integratedLufs, gainDb))} LUFS</td>
      <td className={peak !== null && peak > 0 ? 'num text-danger' : 'num'}>{formatDb(peak)} dBTP</td>
      <td className="num">
        <DraftField
          label={`Gain of track ${number}`}
          className="plain num"
          value={`${formatDb(gainDb)} dB`}
          fault={(text) => (gainOf(text) === undefined ? 'Decibels from −48 to 24.' : undefined)}
          onCommit={(text) => onGain(gainOf(text) ?? gainDb)}
          onStep={(by) => onGain(Math.round(10 * gainDb + by) / 10)}
        />
      </td>
      <td className="num">{gain === gainDb ? '' : <strong>{formatDb(gain)} dB</strong>}</td>
    </tr>
  );
}
