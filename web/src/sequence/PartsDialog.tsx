import { beginPart, editPart, joinPart, spreadOver, spreadSongs, withSpread } from '@oiseau/album/edits';
import { floorToFrame, formatClock, secondsToTicks, ticks, ticksToSeconds } from '@oiseau/audio/time';
import { MEDIA, mediumWords, mostOf, partName, songOf, trackNumber, type Medium } from '@oiseau/album/model';
import type { Part } from '@oiseau/album/layout';
import { useState } from 'react';
import { Button, Form, Modal } from 'react-bootstrap';
import { useAlbum } from '../album/AlbumContext.js';
import { DraftField } from '../ui/DraftField.js';
import { formatDiscTime } from '../ui/format.js';
import { PartField } from '../album/PartField.js';
import { ReadingForm } from './ReadingForm.js';
import { say, t } from '../ui/messages.js';

/** The parts of the album: where each begins, what it is, and a way to spread the songs anew, shown before it is taken. */
export function PartsDialog({ chosen, onHide }: { chosen: string; onHide: () => void }) {
  const { album, parts, part, edit, showPart } = useAlbum('album', 'parts', 'part', 'edit', 'showPart');
  const song = songOf(album, chosen);
  const number = trackNumber(part, chosen);
  const isFirst = part.songs[0]?.id === chosen;
  const title = `“${song?.title || t('Untitled')}”`;
  return (
    <Modal show onHide={onHide} size="lg" scrollable aria-labelledby="parts-title">
      <Modal.Header closeButton>
        <Modal.Title id="parts-title">{t('Parts')}</Modal.Title>
      </Modal.Header>
      <Modal.Body>
        <table className="table parts-table">
          <thead>
            <tr>
              <th>{t('Part')}</th>
              <th>{t('On')}</th>
              <th>{t('Title')}</th>
              <th>UPC/EAN</th>
              <th className="num">{t('Tracks')}</th>
              <th className="num">{t('Length')}</th>
              <th className="num">{t('Left')}</th>
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
            {t('Start a new part before {number} {title}:', { number, title })}
            {(['cd', 'vinyl-12-33'] as const).map((medium) => (
              <Button
                key={medium}
                size="sm"
                variant="outline-primary"
                onClick={() =>
                  edit(t('new part before {title}', { title }), (before) =>
                    beginPart(before, chosen, part.of > 1 || part.medium !== 'cd' ? part.medium : medium),
                  )
                }
              >
                {medium === 'cd' ? t('a disc') : t('a side')}
              </Button>
            ))}
          </p>
        )}
        <SpreadForm medium={part.medium} />
      </Modal.Body>
      <Modal.Footer>
        <Button onClick={onHide}>{t('Done')}</Button>
      </Modal.Footer>
    </Modal>
  );
}

function PartRow({ part, shown, onShow }: { part: Part; shown: boolean; onShow: () => void }) {
  const { edit } = useAlbum('edit');
  const { number, tracks, placement, disc, limit } = part;
  const end = disc?.leadOut ?? floorToFrame(placement.end);
  const left = floorToFrame(limit) - end;
  const name = say(partName(part));
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
          aria-label={t('Medium of {name}', { name })}
          value={part.medium}
          onChange={({ target }) =>
            edit(t('{name} on {medium}', { name, medium: mediumWords(target.value as Medium) }), (before) =>
              editPart(before, number, { medium: target.value as Medium }),
            )
          }
        >
          {MEDIA.map((medium) => (
            <option key={medium} value={medium}>
              {say(mediumWords(medium))}
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
        {left < 0 ? t('{discTime} over', { discTime: formatDiscTime(-left) }) : formatDiscTime(left)}
      </td>
      <td>
        {number > 1 && (
          <Button
            size="sm"
            variant="link"
            onClick={() =>
              edit(t('break before {name} removed', { name }), (before) => joinPart(before, number))
            }
          >
            {t('Join to the previous part')}
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
    ids.map((id) => `“${songOf(album, id)?.title || t('Untitled')}”`).join(', ');
  return (
    <>
      <section className="spread" aria-label={t('Distribute tracks')}>
        <h3>{t('Distribute tracks')}</h3>
        <div className="spread-head">
          <Form.Select
            size="sm"
            aria-label={t('Medium')}
            value={medium}
            onChange={({ target }) => setMedium(target.value as Medium)}
          >
            {MEDIA.map((each) => (
              <option key={each} value={each}>
                {say(mediumWords(each))}
              </option>
            ))}
          </Form.Select>
          <label>
            {t('Maximum length')}{' '}
            <DraftField
              label={t('Maximum length')}
              className="form-control-sm num"
              value={limit ?? formatClock(most)}
              fault={(text) =>
                LIMIT.test(text.trim()) ? undefined : t('Enter minutes and seconds, such as 18:00.')
              }
              onCommit={(text) => setLimit(text.trim())}
            />
          </label>
          <label>
            {t('Minimum parts')}{' '}
            <Form.Select
              size="sm"
              aria-label={t('Minimum number of parts')}
              value={least}
              onChange={({ target }) => setLeast(Number(target.value))}
            >
              {Array.from({ length: 30 }, (_, i) => (
                <option key={i} value={i + 1}>
                  {t('{i, plural, one {# part} other {# parts}}', { i: i + 1 })}
                </option>
              ))}
            </Form.Select>
          </label>
        </div>
        {'over' in spread ? (
          <p className="text-danger" role="status">
            {t(
              '{count, plural, one {{tracks} is too long for one part: cut it first} other {{tracks} are too long for one part: cut them first}}, or raise the maximum.',
              { count: spread.over.length, tracks: names(spread.over) },
            )}
          </p>
        ) : (
          <>
            <ol className="spread-preview" aria-label={t('Preview of the distribution')}>
              {spread.parts.map(({ first: opens, length }) => (
                <li key={opens}>
                  <span className="num">{formatClock(length)}</span>
                  <span className="spread-line">
                    <span style={{ width: `${(100 * ticksToSeconds(length)) / ticksToSeconds(most)}%` }} />
                  </span>
                  {t('from {track}', { track: names([opens]) })}
                </li>
              ))}
            </ol>
            <Button
              variant="outline-primary"
              onClick={() =>
                edit(
                  t('tracks distributed over {count, plural, one {# part} other {# parts}}', {
                    count: spread.parts.length,
                  }),
                  (before) => withSpread(before, spread, medium, own),
                )
              }
            >
              {t('Distribute')}
            </Button>
          </>
        )}
      </section>
      <ReadingForm medium={medium} most={most} own={own} least={least} />
    </>
  );
}
