import { editMarks } from '@oiseau/album/edits';
import { partSound, songSound } from '@oiseau/album/measured';
import type { SequencedSong } from '@oiseau/album/model';
import { pointsOf, type MovingPoint } from '@oiseau/audio/stages';
import { secondsToTicks, ticksToSeconds } from '@oiseau/audio/time';
import { useMemo, useRef } from 'react';
import { Form } from 'react-bootstrap';
import { useAlbum } from '../album/AlbumContext.js';
import { useSoundOutline, useSounds } from '../album/SoundsContext.js';
import { PLAYER_RATE } from '../player/player.js';
import { usePlayer, usePlayerState } from '../album/PlayerContext.js';
import { useOutlines } from '../sequence/Outlines.js';
import { useCanvas } from '../ui/canvas.js';
import { formatDb, formatNumber } from '../ui/format.js';
import { NumberField } from '../ui/NumberField.js';
import { tidy } from './bands.js';
import { drawOverview, REACH_DB } from './overview-drawing.js';
import { useAutomation, type Automation } from './useAutomation.js';
import type { Hearing } from './useHearing.js';
import type { SoundDesk } from './useSoundDesk.js';
import { t } from '../ui/messages.js';

/** The song or the album that is shown, from where to where, in seconds: of the album from absolute zero, of a song what is played of its master. */
function useShown({ target }: SoundDesk) {
  const { part } = useAlbum('part');
  const player = usePlayer();
  const song = part.sequence.songs.find(({ id }) => id === target);
  const placed = target === null ? undefined : part.placement.songs.get(target);
  const from = song ? ticksToSeconds(song.region.in) : 0;
  const to = song ? ticksToSeconds(song.region.out) : ticksToSeconds(part.placement.end);
  /** Where it begins on the part. */
  const start = placed ? ticksToSeconds(placed.start) : 0;
  return {
    ...{ song, from, to, start },
    sound: target === null ? partSound(part) : song ? songSound(song.region) : null,
    /** The place that is heard, in seconds of what is shown; null: another song is. */
    heardAt: (): number | null => {
      const at = player.state.position / PLAYER_RATE - start + from;
      return at > from && at < to ? tidy(at) : null;
    },
    /** @param share of what is shown */
    seek: (share: number): void => player.seek((start + share * (to - from)) * PLAYER_RATE),
  };
}

/** The whole song: a value that moves as a line across it, what compressor and limiter take away hanging from the top. */
export function SongOverview({ desk, hearing }: { desk: SoundDesk; hearing: Hearing }) {
  const { recordOf } = useSounds();
  const outlines = useOutlines();
  const { song, sound, from, to, start, heardAt, seek } = useShown(desk);
  const record = sound ? recordOf(sound) : undefined;
  const treated = useSoundOutline(record);
  const box = useRef<HTMLDivElement>(null);
  const automation = useAutomation(desk, box, from, to);
  const value = automation.line?.value;
  const came = song ? outlines.get(song.region.master) : undefined;
  const { moment } = hearing;
  const draw = useMemo(
    () =>
      drawOverview({
        ...{ came, treated, automation: value, from, to },
        moment: moment && [ticksToSeconds(moment.start), ticksToSeconds(moment.end)],
      }),
    [came, treated, value, from, to, moment],
  );
  const canvas = useCanvas(draw);
  return (
    <section className="overview" aria-label={t('The whole track')}>
      <header>
        <AutomationChoice
          automation={automation}
          onAdd={() => automation.addAt(heardAt() ?? tidy((from + to) / 2))}
        />
        <span className="flex-grow-1" />
        <span className="text-secondary">
          <span className="key hanging" /> {t('gain reduction')}{' '}
          {record && !record.figures && t('(being measured)')}
        </span>
        {song && <LoudestButton song={song} at={() => heardAt() ?? from} />}
      </header>
      <div
        className="overview-box"
        ref={box}
        onClick={({ nativeEvent, currentTarget, target: on, detail }) => {
          if (!(on instanceof HTMLButtonElement) && detail <= 1)
            seek(nativeEvent.offsetX / currentTarget.clientWidth);
        }}
        onDoubleClick={({ nativeEvent, target: on }) => {
          if (on instanceof HTMLButtonElement) return;
          automation.setPoint(null, automation.pointAt(nativeEvent.offsetX, nativeEvent.offsetY), 'new');
        }}
      >
        <canvas ref={canvas} role="img" aria-label={t('Waveform, automation and gain reduction')} />
        <HeardMark start={start} length={to - from} />
        <PointHandles automation={automation} shareOf={(at) => (at - from) / Math.max(1e-9, to - from)} />
      </div>
    </section>
  );
}

/** Which value's automation is shown, and the point in hand. */
function AutomationChoice({ automation, onAdd }: { automation: Automation; onAdd: () => void }) {
  const { line, lines, choose, inHand, point, setPoint } = automation;
  return (
    <>
      <label>
        {t('Automation')}{' '}
        <Form.Select size="sm" value={line?.name ?? ''} onChange={({ target: to }) => choose(to.value)}>
          {lines.map(({ name }) => (
            <option key={name}>{name}</option>
          ))}
        </Form.Select>
      </label>
      {line && (
        <button
          type="button"
          className="btn btn-sm btn-outline-primary"
          title={t('Add a point at the playback position; double-click the waveform to add one there')}
          onClick={onAdd}
        >
          {t('Add point')}
        </button>
      )}
      {inHand && line && (
        <PointFields
          point={inHand}
          least={line.range[0]}
          most={line.range[1]}
          onChange={(next) => setPoint(point, next, 'typed')}
        />
      )}
    </>
  );
}

/** Moves the loudest passage to the place that is heard, or lets it be found again. */
function LoudestButton({ song, at }: { song: SequencedSong; at: () => number }) {
  const { edit } = useAlbum('edit');
  const isFound = song.marks.loudest === null;
  return (
    <button
      type="button"
      className="btn btn-sm btn-outline-primary"
      title={t('Mark the passage at the playback position as the loudest')}
      onClick={() =>
        edit(isFound ? t('loudest passage moved') : t('loudest passage reset'), (before) =>
          editMarks(before, song.id, { loudest: isFound ? secondsToTicks(at()) : null }),
        )
      }
    >
      {isFound ? t('Mark as loudest passage') : t('Reset loudest passage')}
    </button>
  );
}

function PointHandles({ automation, shareOf }: { automation: Automation; shareOf: (at: number) => number }) {
  const { line, point, take, onKey, drag } = automation;
  return (
    line &&
    pointsOf(line.value).map(({ at, db }, place) => (
      <button
        key={place}
        type="button"
        className={place === point ? 'point-handle in-hand' : 'point-handle'}
        data-place={place}
        aria-label={t('Point at {seconds} s: {level} dB', {
          seconds: formatNumber(at, 2),
          level: formatDb(db),
        })}
        style={{
          left: `${100 * Math.max(0, Math.min(1, shareOf(at)))}%`,
          top: `${50 - (50 * Math.max(-REACH_DB, Math.min(REACH_DB, db))) / REACH_DB}%`,
        }}
        onFocus={() => take(place)}
        onKeyDown={(event) => onKey(event, place)}
        {...drag}
      />
    ))
  );
}

/** The point in hand, typed. */
function PointFields({
  point,
  least,
  most,
  onChange,
}: {
  point: MovingPoint;
  least: number;
  most: number;
  onChange: (point: MovingPoint) => void;
}) {
  return (
    <span className="point-fields">
      <NumberField
        label={t('at')}
        unit="s"
        value={point.at}
        least={0}
        most={200_000}
        onChange={(at) => onChange({ ...point, at })}
      />
      <NumberField
        label={t('level')}
        unit="dB"
        value={point.db}
        {...{ least, most }}
        onChange={(db) => onChange({ ...point, db })}
      />
    </span>
  );
}

function HeardMark({ start, length }: { start: number; length: number }) {
  const share = usePlayerState(({ position }) => {
    const into = (position / PLAYER_RATE - start) / Math.max(1e-9, length);
    return into >= 0 && into <= 1 ? Math.round(2000 * into) / 2000 : null;
  });
  return share === null ? null : <span className="master-mark" style={{ left: `${100 * share}%` }} />;
}
