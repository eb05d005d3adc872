import { albumLoudness, matchedGains, ticks, ticksToSeconds, type TrackLevel } from '@oiseau/core';
import { useState } from 'react';
import { Button, Form, Modal } from 'react-bootstrap';
import { useAlbum } from '../album/AlbumContext.js';
import { NumberField } from '../ui/NumberField.js';
import { count, formatDb } from '../ui/format.js';

/** The picture of levels reaches from here up to full scale, in dB. */
const FLOOR_DB = -40;

/** Loudness and true peak of all tracks in one picture, and gains that would match them, shown before they are taken. */
export function LevelsDialog({ chosen, onHide }: { chosen: number; onHide: () => void }) {
  const { album, layout, mastersById, edit } = useAlbum();
  const [reference, setReference] = useState(chosen);
  const [ceiling, setCeiling] = useState(-1);
  const levels = album.tracks.map((track, i): TrackLevel => {
    const measurement = mastersById.get(track.master)?.measurement;
    const placed = layout.tracks[i];
    return {
      integratedLufs: measurement?.integratedLufs ?? null,
      truePeakDbtp: measurement?.truePeakDbtp ?? null,
      gainDb: track.gainDb,
      length: placed ? ticksToSeconds(ticks(placed.audioEnd - placed.audioStart)) : 0,
    };
  });
  const gains = matchedGains(levels, reference, ceiling);
  const changed = levels.filter(({ gainDb }, i) => gains[i] !== gainDb).length;
  const take = (): void => {
    const title = album.tracks[reference]?.title ?? '';
    edit(`loudness of ${count(changed, 'track')} matched to “${title}”`, (before) => ({
      ...before,
      tracks: before.tracks.map((track, i) => ({ ...track, gainDb: gains[i] ?? track.gainDb })),
    }));
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
            <Form.Select
              size="sm"
              value={reference}
              onChange={({ target }) => setReference(Number(target.value))}
            >
              {album.tracks.map(({ id, title }, i) => (
                <option key={id} value={i}>
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
            Nothing is normalised: that would bring every peak to the same height, which says nothing of how
            loud a song is, and only lifts its noise.
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
            {album.tracks.map(({ id, title }, i) => {
              const level = levels[i];
              return (
                level && (
                  <Row key={id} number={i + 1} title={title} level={level} gain={gains[i] ?? level.gainDb} />
                )
              );
            })}
          </tbody>
          <tfoot>
            <tr>
              <td />
              <th scope="row">The album</th>
              <td />
              <td className="num">{formatDb(albumLoudness(levels))} LUFS</td>
              <td />
              <td />
              <td className="num">
                {formatDb(albumLoudness(levels.map((level, i) => ({ ...level, gainDb: gains[i] ?? 0 }))))}{' '}
                LUFS
              </td>
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

const share = (db: number | null): number =>
  db === null ? 0 : Math.max(0, Math.min(100, 100 * (1 - db / FLOOR_DB)));

function Row({
  number,
  title,
  level,
  gain,
}: {
  number: number;
  title: string;
  level: TrackLevel;
  gain: number;
}) {
  const { integratedLufs, truePeakDbtp, gainDb } = level;
  const withGain = (value: number | null, by: number): number | null => (value === null ? null : value + by);
  const peak = withGain(truePeakDbtp, gainDb);
  return (
    <tr>
      <td className="num">{number}</td>
      <td className="name">{title || 'Untitled'}</td>
      <td className="picture">
        <span className="level-now" style={{ width: `${share(withGain(integratedLufs, gainDb))}%` }} />
        <span className="level-then" style={{ left: `${share(withGain(integratedLufs, gain))}%` }} />
        <span className="level-peak" style={{ left: `${share(withGain(truePeakDbtp, gain))}%` }} />
      </td>
      <td className="num">{formatDb(withGain(integratedLufs, gainDb))} LUFS</td>
      <td className={peak !== null && peak > 0 ? 'num text-danger' : 'num'}>{formatDb(peak)} dBTP</td>
      <td className="num">{formatDb(gainDb)} dB</td>
      <td className="num">{gain === gainDb ? '' : <strong>{formatDb(gain)} dB</strong>}</td>
    </tr>
  );
}
