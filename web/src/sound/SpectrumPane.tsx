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
import { BAND_KINDS, farthestDb, formatHz, handleDb } from './bands.js';
import { drawSpectrum, reachOf, shareOfHz } from './spectrum-drawing.js';
import { MOST_BANDS, useBandHandles } from './useBandHandles.js';
import type { SoundDesk } from './useSoundDesk.js';
import { t } from '../ui/messages.js';

interface SpectrumProps {
  readonly desk: SoundDesk;
  /** The band in hand. */
  readonly band: number | null;
  readonly onBand: (band: number | null) => void;
  readonly onAdd: () => void;
}

/** The song's long-term spectrum as it came and as it is now over the range of the others, and the wanted change, dragged there. */
export function SpectrumPane({ desk, band, onBand, onAdd }: SpectrumProps) {
  const { treatment, target } = desk;
  const bands = treatment.equaliser;
  const box = useRef<HTMLDivElement>(null);
  const seconds = useHeardSeconds(desk);
  const { picture, isMeasuring } = useSpectra(target);
  const reach = reachOf(bands.map(farthestDb));
  const draw = useMemo(
    () => drawSpectrum({ ...picture, bands, reach, seconds }),
    [picture, bands, reach, seconds],
  );
  const canvas = useCanvas(draw);
  const handles = useBandHandles(desk, { box, band, onBand, reach, seconds });
  return (
    <section className="spectrum" aria-label={t('Spectrum and equaliser')}>
      <header>
        <span>
          <span className="key dashed" /> {t('original')} <span className="key ink" />{' '}
          {isMeasuring ? t('treated: measuring') : t('treated')} <span className="key band" />{' '}
          {t('other tracks, loudness-matched')}
        </span>
        <Button
          size="sm"
          variant="outline-primary"
          title={t('Add a band (B), or double-click the spectrum')}
          disabled={bands.length >= MOST_BANDS}
          onClick={onAdd}
        >
          <Plus size={14} aria-hidden /> {t('Band')}
        </Button>
      </header>
      <div
        className="spectrum-box"
        ref={box}
        onDoubleClick={({ nativeEvent, target: on }) => {
          if (!(on instanceof HTMLButtonElement)) handles.addAt(nativeEvent.offsetX, nativeEvent.offsetY);
        }}
      >
        <canvas ref={canvas} role="img" aria-label={t('Spectrum')} />
        {bands.map((each, place) => (
          <Handle
            key={place}
            of={each}
            reach={reach}
            seconds={seconds}
            button={{
              ...handles.drag,
              'data-place': place,
              className: place === band ? 'band-handle in-hand' : 'band-handle',
              'aria-label': t('Band {place}: {band}', { place: place + 1, band: bandWords(each) }),
              title: t('{band}: drag to move, turn the wheel to change the width', { band: bandWords(each) }),
              onFocus: () => onBand(place),
              onKeyDown: (event: KeyboardEvent) => handles.onKey(event, place),
            }}
          >
            {place + 1}
          </Handle>
        ))}
      </div>
    </section>
  );
}

/** The spectra of a song, or of the album, as it came and as it is now, over the range of the others. */
function useSpectra(target: string | null) {
  const { part, mastersById } = useAlbum('part', 'mastersById');
  const { recordOf } = useSounds();
  const song = part.sequence.songs.find(({ id }) => id === target);
  const sound = song ? songSound(song.region) : partSound(part);
  const measured = sound ? recordOf(sound)?.figures?.measurement : undefined;
  const isTreated = sound !== null;
  const picture = useMemo(() => {
    const measurementOf = (master: string) => mastersById.get(master)?.measurement ?? null;
    const own = song ? measurementOf(song.region.master) : null;
    const others = part.sequence.songs
      .filter(({ id }) => id !== target)
      .map(({ region }) => ({ measurement: measurementOf(region.master) }));
    return {
      rows: spectrumRows({ measurement: own }, others),
      now: levelled({ measurement: isTreated ? (measured ?? null) : own }),
    };
  }, [song, part, target, mastersById, isTreated, measured]);
  return { picture, isMeasuring: isTreated && !measured };
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
  'db' in band
    ? t('{kind} {hz}, {gain} dB, Q {q}', {
        kind: BAND_KINDS[band.kind],
        hz: formatHz(band.hz),
        gain: gainWords(band.db),
        q: band.q,
      })
    : t('{kind} {hz}, {slope} dB/octave', {
        kind: BAND_KINDS[band.kind],
        hz: formatHz(band.hz),
        slope: band.slope,
      });

function gainWords(value: MovingDb): string {
  const { least, most } = rangeOf(value);
  return least === most
    ? formatDb(least, 2).replace(/\.?0+$/, '')
    : t('{least} to {most}', { least: formatDb(least), most: formatDb(most) });
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
