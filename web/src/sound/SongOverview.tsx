import { editMarks } from '@oiseau/album/edits';
import { partSound, songSound, type SoundOutline } from '@oiseau/album/measured';
import {
  pointsOf,
  valueAt,
  withPoint,
  automatedValues,
  type MovingDb,
  REDUCING_STAGES,
  type AutomatedValue,
  type MovingPoint,
  type Treatment,
} from '@oiseau/audio/stages';
import { secondsToTicks, ticksToSeconds } from '@oiseau/audio/time';
import { Silhouette } from '@oiseau/audio/measure';
import { useMemo, useRef, useState, type KeyboardEvent } from 'react';
import { Form } from 'react-bootstrap';
import { useAlbum } from '../album/AlbumContext.js';
import { useSoundOutline, useSounds } from '../album/SoundsContext.js';
import { PLAYER_RATE } from '../player/player.js';
import { usePlayer, usePlayerState } from '../album/PlayerContext.js';
import { useOutlines } from '../sequence/Outlines.js';
import { useCanvas, type Draw } from '../ui/canvas.js';
import { usePointerDrag } from '../ui/drag.js';
import { drawSilhouette } from '../ui/silhouette-drawing.js';
import { formatDb } from '../ui/format.js';
import { NumberField } from '../ui/NumberField.js';
import { tidy } from './bands.js';
import type { Hearing } from './useHearing.js';
import type { SoundDesk } from './useSoundDesk.js';

/** How far up and down a line reaches in the picture, dB. */
const REACH_DB = 12;

type Line = AutomatedValue<Treatment>;

/** Every value of a treatment that may be automated; an album has no ride. */
function linesOf(treatment: Treatment, ofAlbum: boolean): readonly Line[] {
  if (!ofAlbum) return automatedValues(treatment);
  const { ride, ...album } = treatment;
  return automatedValues(album).map((line) => ({
    ...line,
    changed: (value) => ({ ride, ...line.changed(value) }),
  }));
}

/** The whole song: a value that moves as a line across it, what compressor and limiter take away hanging from the top. */
export function SongOverview({ desk, hearing }: { desk: SoundDesk; hearing: Hearing }) {
  const { target, treatment } = desk;
  const { part, edit } = useAlbum('part', 'edit');
  const { recordOf } = useSounds();
  const player = usePlayer();
  const outlines = useOutlines();
  const song = part.sequence.songs.find(({ id }) => id === target);
  const sound = target === null ? partSound(part) : song ? songSound(song.region) : null;
  const record = sound ? recordOf(sound) : undefined;
  const treated = useSoundOutline(record);
  const lines = linesOf(treatment, target === null);
  // What moves is what there is to see.
  const [which, setWhich] = useState(
    () => lines.find(({ value }) => pointsOf(value).length > 0)?.label ?? '',
  );
  const line = lines.find(({ label }) => label === which) ?? lines[0];
  const [point, setPoint] = useState<number | null>(null);
  const box = useRef<HTMLDivElement>(null);
  const placed = target === null ? undefined : part.placement.songs.get(target);
  // Of the album from absolute zero, of a song what is played of its master, in seconds.
  const from = song ? ticksToSeconds(song.region.in) : 0;
  const to = song ? ticksToSeconds(song.region.out) : ticksToSeconds(part.placement.end);
  const came = song ? outlines.get(song.region.master) : undefined;
  const draw = useMemo(
    () =>
      drawOverview({
        came,
        treated,
        line,
        from,
        to,
        moment: hearing.moment && [ticksToSeconds(hearing.moment.start), ticksToSeconds(hearing.moment.end)],
      }),
    [came, treated, line, from, to, hearing.moment],
  );
  const canvas = useCanvas(draw);
  const shareOf = (at: number): number => (at - from) / Math.max(1e-9, to - from);
  const setPoints = (place: number | null, next: MovingPoint | null, key: string): void => {
    if (!line) return;
    const value = withPoint(line.value, place, next);
    desk.change(() => line.changed(value), `${line.label} ${key}`);
    setPoint(next === null ? null : pointsOf(value).findIndex(({ at }) => at === next.at));
  };
  const pointAt = (x: number, y: number): MovingPoint => {
    const { clientWidth: width, clientHeight: height } = box.current ?? { clientWidth: 1, clientHeight: 1 };
    const at = tidy(Math.max(from, Math.min(to, from + (x / width) * (to - from))));
    const db = REACH_DB - (2 * REACH_DB * y) / height;
    return { at, db: Math.round(10 * Math.max(line?.range[0] ?? 0, Math.min(line?.range[1] ?? 0, db))) / 10 };
  };
  const drag = usePointerDrag<{ readonly place: number; readonly of: MovingPoint }, HTMLButtonElement>({
    grab: ({ currentTarget }) => {
      const place = Number(currentTarget.dataset.place);
      const of = line && pointsOf(line.value)[place];
      setPoint(place);
      return of ? { place, of } : null;
    },
    move: ({ place, of }, by) => {
      if (!line) return;
      const { clientWidth: width, clientHeight: height } = box.current ?? { clientWidth: 1, clientHeight: 1 };
      const x = shareOf(of.at) * width + by.x;
      const y = ((REACH_DB - of.db) / (2 * REACH_DB)) * height + by.y;
      desk.drag(line.changed(moved(line.value, pointAt(x, y), place)));
    },
    drop: () => desk.drop(),
    takeBack: () => desk.takeBack(),
  });
  const key = (event: KeyboardEvent, place: number): void => {
    const of = line && pointsOf(line.value)[place];
    if (!of) return;
    const many = event.shiftKey ? 10 : 1;
    const deeds: Readonly<Record<string, () => void>> = {
      ArrowLeft: () => setPoints(place, { ...of, at: tidy(of.at - 0.1 * many) }, 'at'),
      ArrowRight: () => setPoints(place, { ...of, at: tidy(of.at + 0.1 * many) }, 'at'),
      ArrowUp: () => setPoints(place, { ...of, db: tidy(of.db + 0.1 * many) }, 'db'),
      ArrowDown: () => setPoints(place, { ...of, db: tidy(of.db - 0.1 * many) }, 'db'),
      Delete: () => setPoints(place, null, 'out'),
      Backspace: () => setPoints(place, null, 'out'),
    };
    const deed = deeds[event.key];
    if (!deed) return;
    event.preventDefault();
    event.stopPropagation();
    deed();
  };
  /** The place that is heard, in seconds of what is shown; null: another song is. */
  const heardAt = (): number | null => {
    const at = player.state.position / PLAYER_RATE - (placed ? ticksToSeconds(placed.start) : 0) + from;
    return at > from && at < to ? tidy(at) : null;
  };
  const addHere = (): void => {
    const at = heardAt() ?? tidy((from + to) / 2);
    if (line) setPoints(null, { at, db: tidy(valueAt(line.value, 1000)(1000 * at)) }, 'new');
  };
  const inHand = line && point !== null ? pointsOf(line.value)[point] : undefined;
  return (
    <section className="overview" aria-label="The whole song">
      <header>
        <label>
          Automation{' '}
          <Form.Select size="sm" value={line?.label ?? ''} onChange={({ target: to }) => setWhich(to.value)}>
            {lines.map(({ label }) => (
              <option key={label}>{label}</option>
            ))}
          </Form.Select>
        </label>
        {line && (
          <button
            type="button"
            className="btn btn-sm btn-outline-primary"
            title="A point where it is heard; a double press on the picture sets one there"
            onClick={addHere}
          >
            + Point
          </button>
        )}
        {inHand && (
          <PointFields
            point={inHand}
            least={line?.range[0] ?? 0}
            most={line?.range[1] ?? 0}
            onChange={(next) => setPoints(point, next, 'typed')}
          />
        )}
        <span className="flex-grow-1" />
        <span className="text-secondary">
          <span className="key hanging" /> taken away {record && !record.figures && '(being measured)'}
        </span>
        {song && (
          <button
            type="button"
            className="btn btn-sm btn-outline-primary"
            title="What is heard now is its loudest moment from now on"
            onClick={() => {
              const loudest = song.marks.loudest === null ? secondsToTicks(heardAt() ?? from) : null;
              edit(loudest === null ? 'loudest moment found again' : 'loudest moment moved', (before) =>
                editMarks(before, song.id, { loudest }),
              );
            }}
          >
            {song.marks.loudest === null ? 'Loudest is here' : 'Find the loudest'}
          </button>
        )}
      </header>
      <div
        className="overview-box"
        ref={box}
        onClick={({ nativeEvent, currentTarget, target: on, detail }) => {
          if (on instanceof HTMLButtonElement || detail > 1) return;
          const share = nativeEvent.offsetX / currentTarget.clientWidth;
          const start = placed ? ticksToSeconds(placed.start) : 0;
          player.seek((start + share * (to - from)) * PLAYER_RATE);
        }}
        onDoubleClick={({ nativeEvent, target: on }) => {
          if (on instanceof HTMLButtonElement) return;
          setPoints(null, pointAt(nativeEvent.offsetX, nativeEvent.offsetY), 'new');
        }}
      >
        <canvas ref={canvas} role="img" aria-label="The song, its line and what is taken away" />
        <HeardMark start={placed ? ticksToSeconds(placed.start) : 0} length={to - from} />
        {line &&
          pointsOf(line.value).map(({ at, db }, place) => (
            <button
              key={place}
              type="button"
              className={place === point ? 'point-handle in-hand' : 'point-handle'}
              data-place={place}
              aria-label={`Point at ${at.toFixed(2)} s: ${formatDb(db)} dB`}
              style={{
                left: `${100 * Math.max(0, Math.min(1, shareOf(at)))}%`,
                top: `${50 - (50 * Math.max(-REACH_DB, Math.min(REACH_DB, db))) / REACH_DB}%`,
              }}
              onFocus={() => setPoint(place)}
              onKeyDown={(event) => key(event, place)}
              {...drag}
            />
          ))}
      </div>
    </section>
  );
}

/** A value with one of its points moved, between its neighbours: it keeps its place among them. */
function moved(now: MovingDb, to: MovingPoint, place: number): MovingDb {
  const points = pointsOf(now);
  const [before, after] = [points[place - 1]?.at ?? -Infinity, points[place + 1]?.at ?? Infinity];
  const at = Math.max(before + 0.01, Math.min(after - 0.01, to.at));
  return points.map((each, i) => (i === place ? { at: tidy(at), db: to.db } : each));
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
        label="at"
        unit="s"
        value={point.at}
        least={0}
        most={200_000}
        onChange={(at) => onChange({ ...point, at })}
      />
      <NumberField
        label="level"
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

/** What is taken away hangs from the top: so many dB reach down to the middle. */
const TAKEN_REACH_DB = 12;

function drawOverview({
  came,
  treated,
  line,
  from,
  to,
  moment,
}: {
  came: Silhouette | undefined;
  treated: SoundOutline | undefined;
  line: Line | undefined;
  from: number;
  to: number;
  moment: readonly [number, number] | null;
}): Draw {
  return (context, width, height, { ink, soft, rule, accent, danger, doubt }) => {
    context.clearRect(0, 0, width, height);
    const stretch = { x: 0, width, ground: height - 1, height: height - 4, from: 75 * from, to: 75 * to };
    if (came) {
      context.fillStyle = soft;
      drawSilhouette(context, came, stretch, treated ? 'rms' : 'peak');
    }
    const now = treated ? new Silhouette(treated.silhouette) : came;
    if (now) {
      context.fillStyle = ink;
      context.globalAlpha = 0.75;
      drawSilhouette(context, now, stretch, 'rms');
      context.globalAlpha = 1;
    }
    const x = (at: number): number => (width * (at - from)) / Math.max(1e-9, to - from);
    if (moment) {
      context.fillStyle = accent;
      const [left, right] = [x(moment[0]), x(moment[1])];
      context.fillRect(left, height - 5, right - left, 4);
    }
    // Of each column what is taken most.
    const colours = [doubt, danger];
    for (const offset of REDUCING_STAGES.keys()) {
      if (!treated) break;
      context.fillStyle = colours[offset % colours.length] ?? doubt;
      const step = (75 * (to - from)) / width;
      for (let column = 0; column < width; column++) {
        let most = 0;
        const first = Math.floor(75 * from + column * step);
        const last = Math.max(first + 1, Math.floor(75 * from + (column + 1) * step));
        for (let i = first; i < last; i++)
          most = Math.max(most, treated.reductions[REDUCING_STAGES.length * i + offset] ?? 0);
        if (most > 0) context.fillRect(column, 0, 1, (most / 10 / TAKEN_REACH_DB) * (height / 2));
      }
    }
    if (!line) return;
    const y = (db: number): number => (height * (REACH_DB - db)) / (2 * REACH_DB);
    context.fillStyle = rule;
    context.fillRect(0, Math.round(height / 2), width, 1);
    const value = valueAt(line.value, 1000);
    context.strokeStyle = accent;
    context.lineWidth = 2;
    context.beginPath();
    for (let column = 0; column <= width; column += 2)
      context.lineTo(column, y(value(1000 * (from + (column / width) * (to - from)))));
    context.stroke();
  };
}
