import { isUntreated, treatmentWords } from '@oiseau/audio/stages';
import { partSound, songSound } from '@oiseau/album/measured';
import { songOf, trackNumber, type SequencedSong } from '@oiseau/album/model';
import type { Part } from '@oiseau/album/layout';
import { memo } from 'react';
import { useAlbum } from '../album/AlbumContext.js';
import { useHeardFigures, useSounds } from '../album/SoundsContext.js';
import { formatDb } from '../ui/format.js';
import type { SoundDesk } from './useSoundDesk.js';
import { say, t } from '../ui/messages.js';

/** The songs, each with its loudness, its true peak and what is done to it; the album is one more line. */
export function SongColumn({
  desk,
  onChoose,
  onPlay,
}: {
  desk: SoundDesk;
  onChoose: (id: string | null) => void;
  onPlay: (id: string) => void;
}) {
  const { part, album } = useAlbum('part', 'album');
  const { recordOf } = useSounds();
  const heardOf = useHeardFigures();
  const whole = partSound(part);
  const known = whole ? recordOf(whole)?.figures?.measurement : undefined;
  return (
    <nav className="sound-column" aria-label={t('Tracks')}>
      <ol>
        {part.sequence.songs.map((song) => {
          const heard = heardOf.get(song.id);
          const own = songSound(song.region);
          const job = (whole ? recordOf(whole) : own ? recordOf(own) : undefined)?.job;
          return (
            <Line
              key={song.id}
              number={trackNumber(part, song.id) ?? '–'}
              title={songOf(album, song.id)?.title || t('Untitled')}
              words={wordsOf(song, part)}
              lufs={heard?.integratedLufs ?? null}
              peak={heard?.truePeakDbtp ?? null}
              share={heard || !job ? null : job.share}
              inHand={desk.target === song.id}
              onChoose={() => onChoose(song.id)}
              onPlay={() => onPlay(song.id)}
            />
          );
        })}
      </ol>
      <Line
        number=""
        title={t('The album')}
        words={treatmentWords(album.sound).map(say).join(', ') || t('no album treatment')}
        lufs={known?.integratedLufs ?? null}
        peak={known?.truePeakDbtp ?? null}
        share={whole && !known ? (recordOf(whole)?.job?.share ?? 0) : null}
        inHand={desk.target === null}
        onChoose={() => onChoose(null)}
        onPlay={() => onPlay(part.sequence.songs[0]?.id ?? '')}
      />
    </nav>
  );
}

/** What is done to a song, in a few words. */
function wordsOf({ region }: SequencedSong, { sequence }: Part): string {
  const words = treatmentWords(region.sound);
  if (words.length > 0) return words.map(say).join(', ');
  if (region.gainDb !== 0) return t('gain {level} dB only', { level: formatDb(region.gainDb) });
  return isUntreated(sequence.sound) ? t('bit-perfect') : t('as the album');
}

const Line = memo(function Line({
  number,
  title,
  words,
  lufs,
  peak,
  share,
  inHand,
  onChoose,
  onPlay,
}: {
  number: number | string;
  title: string;
  words: string;
  lufs: number | null;
  peak: number | null;
  /** How far its measuring is; null: it is measured, or nothing waits. */
  share: number | null;
  inHand: boolean;
  onChoose: () => void;
  onPlay: () => void;
}) {
  return (
    <li className={inHand ? 'in-hand' : ''}>
      <button
        type="button"
        aria-current={inHand || undefined}
        title={t('Enter or double-click to play from the start')}
        onClick={onChoose}
        onDoubleClick={onPlay}
        onKeyDown={(event) => {
          if (event.key !== 'Enter' || !inHand) return;
          event.preventDefault();
          onPlay();
        }}
      >
        <span className="song-number">{number}</span>
        <span className="song-title">{title}</span>
        <span className="song-figures">
          {share === null ? (
            <>
              {formatDb(lufs)} <small>LUFS</small>{' '}
              <span className={peak !== null && peak > 0 ? 'text-danger' : ''}>
                {formatDb(peak, 1, 0)} <small>dBTP</small>
              </span>
            </>
          ) : (
            <small className="text-secondary">
              {share > 0
                ? t('measuring, {percent} %', { percent: Math.round(100 * share) })
                : t('not known yet')}
            </small>
          )}
        </span>
        <span className="song-words" title={words}>
          {words}
        </span>
      </button>
    </li>
  );
});
