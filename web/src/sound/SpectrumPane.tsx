import { intervalLength, ticksToSeconds } from '@oiseau/audio/time';
import { partSound, songSound } from '@oiseau/album/measured';
import { rangeOf, type Band, type MovingDb } from '@oiseau/audio/stages';
import { Plus } from 'lucide-react';
import { useMemo, useRef, type KeyboardEvent } from 'react';
import { Button } from 'react-bootstrap';
import { useAlbum } from '../album/AlbumContext.js';
import { useSounds } from '../album/SoundsContext.js';
import { levelled, spectrumRows } from '../masters/spectrum-rows.js';
import { usePlayerState } from '../album/PlayerContext.js';
import { PLAYER_RATE } from '../player/player.js';
import { useCanvas } from '../ui/canvas.js';
import { formatDb } from '../ui/format.js';
import { usePointerDrag } from '../ui/drag.js';
import { useWheel } from '../ui/useWheel.js';
import { BAND_KINDS, farthestDb, formatHz, handleDb, newBand, shifted, tidy, tidyHz } from './bands.js';
import { dbOfY, drawSpectrum, hzOfShare, reachOf, shareOfHz, yOfDb } from './spectrum-drawing.js';
import type { SoundDesk } from './useSoundDesk.js';

interface SpectrumProps {
  readonly desk: SoundDesk;
  /** The band in hand. */
  readonly band: number | null;
  readonly onBand: (band: number | null) => void;
  readonly onAdd: () => void;
}

const LIFT = { least: -24, most: 24 };
const Q = { least: 0.1, most: 20 };

/** The song's long-term spectrum as it came and as it is now over the range of the others, and the wanted change, dragged there. */
export function SpectrumPane({ desk, band, onBand, onAdd }: SpectrumProps) {
  const { treatment, target } = desk;
  const bands = treatment.equaliser;
  const { part, mastersById } = useAlbum('part', 'mastersById');
  const { recordOf } = useSounds();
  const box = useRef<HTMLDivElement>(null);
  const song = part.sequence.songs.find(({ id }) => id === target);
  const sound = song ? songSound(song.region) : partSound(part);
  const measured = sound ? recordOf(sound)?.figures?.measurement : undefined;
  const seconds = useHeardSeconds(desk);
  const picture = useMemo(() => {
    const own = song ? (mastersById.get(song.region.master)?.measurement ?? null) : null;
    const others = part.sequence.songs
      .filter(({ id }) => id !== target)
      .map(({ region }) => ({ measurement: mastersById.get(region.master)?.measurement ?? null }));
    return {
      rows: spectrumRows({ measurement: own }, others),
      now: levelled({ measurement: sound ? (measured ?? null) : own }),
    };
  }, [song, part, target, mastersById, sound, measured]);
  const reach = reachOf(bands.map(farthestDb));
  const draw = useMemo(
    () => drawSpectrum({ ...picture, bands, reach, seconds }),
    [picture, bands, reach, seconds],
  );
  const canvas = useCanvas(draw);
  const withBand = (place: number, changed: Band): typeof treatment => ({
    ...treatment,
    equaliser: bands.map((each, i) => (i === place ? changed : each)),
  });
  const change = (place: number, changed: Band, key: string): void =>
    desk.change(() => withBand(place, changed), `band ${place} ${key}`);
  const remove = (place: number): void => {
    onBand(null);
    desk.change((before) => ({ ...before, equaliser: before.equaliser.filter((_, i) => i !== place) }));
  };
  const widen = (place: number, by: number): void => {
    const of = bands[place];
    if (of && 'q' in of)
      change(place, { ...of, q: tidy(Math.max(Q.least, Math.min(Q.most, of.q * 1.08 ** by))) }, 'q');
  };
  useWheel(box, (event) => {
    if (band !== null) widen(band, event.deltaY < 0 ? 1 : -1);
  });
  const drag = usePointerDrag<{ readonly place: number; readonly of: Band }, HTMLButtonElement>({
    grab: ({ currentTarget }) => {
      const place = Number(currentTarget.dataset.place);
      const of = bands[place];
      onBand(place);
      return of ? { place, of } : null;
    },
    move: ({ place, of }, by) => {
      const { clientWidth: width, clientHeight: height } = box.current ?? { clientWidth: 1, clientHeight: 1 };
      const hz = tidyHz(hzOfShare(shareOfHz(of.hz) + by.x / width));
      if (!('db' in of)) return desk.drag(withBand(place, { ...of, hz }));
      const moved =
        dbOfY(yOfDb(handleDb(of, seconds), height, reach) + by.y, height, reach) - handleDb(of, seconds);
      const db = shifted(of.db, Math.round(10 * moved) / 10, LIFT.least, LIFT.most);
      desk.drag(withBand(place, { ...of, hz, db }));
    },
    drop: () => desk.drop(),
    takeBack: () => desk.takeBack(),
  });
  const key = (event: KeyboardEvent, place: number): void => {
    const of = bands[place];
    if (!of) return;
    const many = event.shiftKey ? 10 : 1;
    const turned = (steps: number): Band => ({ ...of, hz: tidyHz(of.hz * 2 ** (steps / 24)) });
    const lifted = (by: number): Band =>
      'db' in of ? { ...of, db: shifted(of.db, by, LIFT.least, LIFT.most) } : of;
    const deeds: Readonly<Record<string, () => void>> = {
      ArrowLeft: () => change(place, turned(-many), 'hz'),
      ArrowRight: () => change(place, turned(many), 'hz'),
      ArrowUp: () => change(place, lifted(0.1 * many), 'db'),
      ArrowDown: () => change(place, lifted(-0.1 * many), 'db'),
      '+': () => widen(place, 1),
      '-': () => widen(place, -1),
      Delete: () => remove(place),
      Backspace: () => remove(place),
    };
    const deed = deeds[event.key];
    if (!deed) return;
    event.preventDefault();
    event.stopPropagation();
    deed();
  };
  return (
    <section className="spectrum" aria-label="Spectrum and equaliser">
      <header>
        <span>
          <span className="key dashed" /> as it came <span className="key ink" />{' '}
          {sound && !measured ? 'as it is now: being measured' : 'as it is now'} <span className="key band" />{' '}
          the others, all at the same loudness
        </span>
        <Button
          size="sm"
          variant="outline-primary"
          title="A new band (B), or a double press on the picture"
          disabled={bands.length >= 12}
          onClick={onAdd}
        >
          <Plus size={14} aria-hidden /> Band
        </Button>
      </header>
      <div
        className="spectrum-box"
        ref={box}
        onDoubleClick={({ nativeEvent, currentTarget, target: on }) => {
          if (on instanceof HTMLButtonElement || bands.length >= 12) return;
          const { clientWidth: width, clientHeight: height } = currentTarget;
          const hz = tidyHz(hzOfShare(nativeEvent.offsetX / width));
          const db = Math.round(10 * dbOfY(nativeEvent.offsetY, height, reach)) / 10;
          onBand(bands.length);
          desk.change((before) => ({ ...before, equaliser: [...before.equaliser, newBand(hz, db)] }));
        }}
      >
        <canvas ref={canvas} role="img" aria-label="Spectrum" />
        {bands.map((each, place) => (
          <Handle
            key={place}
            of={each}
            reach={reach}
            seconds={seconds}
            button={{
              ...drag,
              'data-place': place,
              className: place === band ? 'band-handle in-hand' : 'band-handle',
              'aria-label': `Band ${place + 1}: ${bandWords(each)}`,
              title: `${bandWords(each)} — drag it; the wheel makes it wider`,
              onFocus: () => onBand(place),
              onKeyDown: (event: KeyboardEvent) => key(event, place),
            }}
          >
            {place + 1}
          </Handle>
        ))}
      </div>
    </section>
  );
}

function Handle({
  of,
  reach,
  seconds,
  button,
  children,
}: {
  of: Band;
  reach: number;
  seconds: number;
  button: object;
  children: number;
}) {
  // The picture keeps some room at its edges, as `yOfDb` does.
  const share = (reach - Math.max(-reach, Math.min(reach, handleDb(of, seconds)))) / (2 * reach);
  return (
    <button
      type="button"
      {...button}
      style={{
        left: `${100 * Math.max(0, Math.min(1, shareOfHz(of.hz)))}%`,
        top: `calc(6px + (100% - 24px) * ${share})`,
      }}
    >
      {children}
    </button>
  );
}

const bandWords = (band: Band): string =>
  `${BAND_KINDS[band.kind]} ${formatHz(band.hz)}${'db' in band ? `, ${liftWords(band.db)} dB, Q ${band.q}` : `, ${band.slope} dB an octave`}`;

function liftWords(value: MovingDb): string {
  const { least, most } = rangeOf(value);
  return least === most
    ? formatDb(least, 2).replace(/\.?0+$/, '')
    : `${formatDb(least)} to ${formatDb(most)}`;
}

/** The moment for which a moving curve is drawn: the one that is heard, in tenths of a second of the song's master; else its start. */
function useHeardSeconds({ target }: SoundDesk): number {
  const { part } = useAlbum('part');
  const tenth = usePlayerState(({ position }) => Math.floor((10 * position) / PLAYER_RATE));
  if (target === null) return tenth / 10;
  const song = part.sequence.songs.find(({ id }) => id === target);
  const placed = part.placement.songs.get(target);
  if (!song || !placed) return 0;
  const into = tenth / 10 - ticksToSeconds(placed.start);
  const inside = into >= 0 && into < ticksToSeconds(intervalLength(placed)) ? into : 0;
  return inside + ticksToSeconds(song.region.in);
}
