import { beginPart, editPart, joinPart, spreadOver, spreadSongs, withSpread } from '@oiseau/album/edits';
import { floorToFrame, formatClock, secondsToTicks, ticks, ticksToSeconds } from '@oiseau/audio/time';
import { MEDIA, mediumWords, mostOf, partName, songOf, trackNumber, type Medium } from '@oiseau/album/model';
import type { Part } from '@oiseau/album/layout';
import { useState } from 'react';
import { Button, Form, Modal } from 'react-bootstrap';
import { useAlbum } from '../album/AlbumContext.js';
import { DraftField } from '../ui/DraftField.js';
import { count, formatDiscTime } from '../ui/format.js';
import { PartField } from '../album/PartField.js';
import { ReadingForm } from './ReadingForm.js';

/** The parts of the album: where each begins, what it is, and a way to spread the songs anew, shown before it is taken. */
export function PartsDialog({ chosen, onHide }: { chosen: string; onHide: () => void }) {
  const { album, parts, part, edit, showPart } = useAlbum('album', 'parts', 'part', 'edit', 'showPart');
  const song = songOf(album, chosen);
  const number = trackNumber(part, chosen);
  const isFirst = part.songs[0]?.id === chosen;
  const title = `“${song?.title || 'Untitled'}”`;
  return (
    <Modal show onHide={onHide} size="lg" scrollable aria-labelledby="parts-title">
      <Modal.Header closeButton>
        <Modal.Title id="parts-title">Parts</Modal.Title>
      </Modal.Header>
      <Modal.Body>
        <table className="table parts-table">
          <thead>
            <tr>
              <th>Part</th>
              <th>On</th>
              <th>Title</th>
              <th>UPC/EAN</th>
              <th className="num">Tracks</th>
              <th className="num">Length</th>
              <th className="num">Left</th>
              <th />
            </tr>
          </thead>
          <tbody>
            {parts.map((each) => (
              <PartRow
                key={each.number}
                part={each}
                shown={each.number === part.number}
                onShow={() => showPart(each.number)}
              />
            ))}
          </tbody>
        </table>
        {song && number !== null && !isFirst && (
          <p className="parts-begin">
            Start a new part before {number} {title}:
            {(['cd', 'vinyl-12-33'] as const).map((medium) => (
              <Button
                key={medium}
                size="sm"
                variant="outline-primary"
                onClick={() =>
                  edit(`new part before ${title}`, (before) =>
                    beginPart(before, chosen, part.of > 1 || part.medium !== 'cd' ? part.medium : medium),
                  )
                }
              >
                {medium === 'cd' ? 'a disc' : 'a side'}
              </Button>
            ))}
          </p>
        )}
        <SpreadForm medium={part.medium} />
      </Modal.Body>
      <Modal.Footer>
        <Button onClick={onHide}>Done</Button>
      </Modal.Footer>
    </Modal>
  );
}

function PartRow({ part, shown, onShow }: { part: Part; shown: boolean; onShow: () => void }) {
  const { edit } = useAlbum('edit');
  const { number, tracks, placement, disc, limit } = part;
  const end = disc?.leadOut ?? floorToFrame(placement.end);
  const left = floorToFrame(limit) - end;
  const name = partName(part);
  const sounding = tracks.length === 0 ? ticks(0) : placement.end;
  return (
    <tr className={shown ? 'in-hand' : ''}>
      <td>
        <Button size="sm" variant="link" aria-pressed={shown} onClick={onShow}>
          {name}
        </Button>
      </td>
      <td>
        <Form.Select
          size="sm"
          aria-label={`Medium of ${name}`}
          value={part.medium}
          onChange={({ target }) =>
            edit(`${name} on ${mediumWords(target.value as Medium)}`, (before) =>
              editPart(before, number, { medium: target.value as Medium }),
            )
          }
        >
          {MEDIA.map((medium) => (
            <option key={medium} value={medium}>
              {mediumWords(medium)}
            </option>
          ))}
        </Form.Select>
      </td>
      {(['title', 'upc'] as const).map((field) => (
        <td key={field}>
          <PartField part={part} field={field} />
        </td>
      ))}
      <td className="num">{tracks.length}</td>
      <td className="num">{formatClock(sounding)}</td>
      <td className={left < 0 ? 'num text-danger' : 'num'}>
        {left < 0 ? `${formatDiscTime(-left)} over` : formatDiscTime(left)}
      </td>
      <td>
        {number > 1 && (
          <Button
            size="sm"
            variant="link"
            onClick={() => edit(`break before ${name} removed`, (before) => joinPart(before, number))}
          >
            Join to the previous part
          </Button>
        )}
      </td>
    </tr>
  );
}

/** `18:00` or `18` as minutes. */
const LIMIT = /^(\d{1,3})(?::([0-5]\d))?$/;

function SpreadForm({ medium: first }: { medium: Medium }) {
  const { album, facts, edit } = useAlbum('album', 'facts', 'edit');
  const [medium, setMedium] = useState(first);
  const [limit, setLimit] = useState<string | null>(null);
  const [least, setLeast] = useState(1);
  const [, minutes, seconds = '0'] = LIMIT.exec(limit ?? '') ?? [];
  const own = minutes === undefined ? null : secondsToTicks(60 * Number(minutes) + Number(seconds));
  const most = own ?? mostOf(medium);
  const spread = spreadOver(spreadSongs(album, facts), medium, most, least);
  const names = (ids: readonly string[]): string =>
    ids.map((id) => `“${songOf(album, id)?.title || 'Untitled'}”`).join(', ');
  return (
    <>
      <section className="spread" aria-label="Distribute tracks">
        <h3>Distribute tracks</h3>
        <div className="spread-head">
          <Form.Select
            size="sm"
            aria-label="Medium"
            value={medium}
            onChange={({ target }) => setMedium(target.value as Medium)}
          >
            {MEDIA.map((each) => (
              <option key={each} value={each}>
                {mediumWords(each)}
              </option>
            ))}
          </Form.Select>
          <label>
            Maximum length{' '}
            <DraftField
              label="Maximum length"
              className="form-control-sm num"
              value={limit ?? formatClock(most)}
              fault={(text) =>
                LIMIT.test(text.trim()) ? undefined : 'Enter minutes and seconds, such as 18:00.'
              }
              onCommit={(text) => setLimit(text.trim())}
            />
          </label>
          <label>
            Minimum parts{' '}
            <Form.Select
              size="sm"
              aria-label="Minimum number of parts"
              value={least}
              onChange={({ target }) => setLeast(Number(target.value))}
            >
              {Array.from({ length: 30 }, (_, i) => (
                <option key={i} value={i + 1}>
                  {count(i + 1, 'part')}
                </option>
              ))}
            </Form.Select>
          </label>
        </div>
        {'over' in spread ? (
          <p className="text-danger" role="status">
            {names(spread.over)} {spread.over.length === 1 ? 'is' : 'are'} too long for one part: cut{' '}
            {spread.over.length === 1 ? 'it' : 'them'} first, or raise the maximum.
          </p>
        ) : (
          <>
            <ol className="spread-preview" aria-label="Preview of the distribution">
              {spread.parts.map(({ first: opens, length }) => (
                <li key={opens}>
                  <span className="num">{formatClock(length)}</span>
                  <span className="spread-line">
                    <span style={{ width: `${(100 * ticksToSeconds(length)) / ticksToSeconds(most)}%` }} />
                  </span>
                  from {names([opens])}
                </li>
              ))}
            </ol>
            <Button
              variant="outline-primary"
              onClick={() =>
                edit(`tracks distributed over ${count(spread.parts.length, 'part')}`, (before) =>
                  withSpread(before, spread, medium, own),
                )
              }
            >
              Distribute
            </Button>
          </>
        )}
      </section>
      <ReadingForm medium={medium} most={most} own={own} least={least} />
    </>
  );
}
