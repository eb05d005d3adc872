import { lineUpAlternate, removeAlternate } from '@oiseau/album/edits';
import { nameOfLineUp, shiftOf } from '@oiseau/album/measured';
import type { Song } from '@oiseau/album/model';
import { ticks, ticksToSamples, ticksToSeconds } from '@oiseau/audio/time';
import { wordFinding, type Finding } from '@oiseau/checks';
import type { MasterRecord } from '@oiseau/api';
import { X } from 'lucide-react';
import { Button } from 'react-bootstrap';
import { useAlbum } from '../album/AlbumContext.js';
import { useSounds } from '../album/SoundsContext.js';
import { songName } from '../album/song-name.js';
import { useFindings } from '../checks/FindingsContext.js';
import { IconButton } from '../ui/IconButton.js';
import { say, t } from '../ui/messages.js';
import { formatNumber } from '../ui/format.js';

type Of = Extract<Finding, { alternate: string; song: string }>;
const isOf = (finding: Finding): finding is Of => 'alternate' in finding && 'song' in finding;

interface CellProps {
  readonly song: Song;
  readonly name: string;
  readonly alternate: Song['alternates'][string] | undefined;
  /** Masters in no place yet. */
  readonly free: readonly MasterRecord[];
  readonly onTake: (master: string) => void;
}

/** One recording of a song: its file and how it lies to the master; or the way to give the song one. */
export function AlternateCell({ song, name, alternate, free, onTake }: CellProps) {
  const { album, parts, mastersById, edit } = useAlbum('album', 'parts', 'mastersById', 'edit');
  const of = t('{name} of {songName}', { name, songName: songName(parts, song.id) });
  if (!alternate) {
    const tracks = album.songs.filter(
      ({ id, alternates }) => id !== song.id && Object.keys(alternates).length === 0,
    );
    return (
      <select
        className="take-recording"
        aria-label={t('File for {of}', { of })}
        value=""
        onChange={({ target }) => onTake(target.value)}
      >
        <option value="">–</option>
        {free.map((master) => (
          <option key={master.sha256} value={master.sha256}>
            {master.name}
          </option>
        ))}
        {tracks.length > 0 && (
          <optgroup label={t('Tracks (they become alternates)')}>
            {tracks.map(({ id, title, region }) => (
              <option key={id} value={region.master}>
                {songName(parts, id)}: {title}
              </option>
            ))}
          </optgroup>
        )}
      </select>
    );
  }
  return (
    <div className="recording">
      <span className="file" title={mastersById.get(alternate.master)?.name}>
        {mastersById.get(alternate.master)?.name ?? t('unknown master')}
      </span>
      <IconButton
        icon={X}
        label={t('Remove {of}', { of })}
        hint={t('Remove; the file stays in Masters')}
        onClick={() => edit(t('{of} removed', { of }), (before) => removeAlternate(before, song.id, name))}
      />
      <LineUpState song={song} name={name} alternate={alternate} of={of} />
    </div>
  );
}

/** How a recording lies to its master, and the way to line it up. */
function LineUpState({
  song,
  name,
  alternate: { master: other, shift },
  of,
}: Pick<CellProps, 'song' | 'name'> & { alternate: Song['alternates'][string]; of: string }) {
  const { mastersById, edit } = useAlbum('mastersById', 'edit');
  const { lineUps } = useSounds();
  const { all } = useFindings();
  const fault = all.filter(isOf).find((each) => each.song === song.id && each.alternate === name);
  const figures = lineUps.get(nameOfLineUp({ master: song.region.master, other }));
  const line = (to: number, isAligned: boolean) => (
    <Button
      size="sm"
      variant="link"
      className="p-0"
      onClick={() =>
        edit(isAligned ? t('{of} aligned', { of }) : t('{of} not aligned', { of }), (before) =>
          lineUpAlternate(before, song.id, name, ticks(to)),
        )
      }
    >
      {isAligned ? t('Align') : t('Undo alignment')}
    </Button>
  );
  if (fault && fault.code !== 'alternate-shifted')
    return <span className="state text-danger">{say(wordFinding(fault))}</span>;
  if (fault)
    return (
      <span className="state doubtful" title={say(wordFinding(fault))}>
        {fault.samples > 0
          ? t('{count, plural, one {# sample} other {# samples}} late', { count: fault.samples })
          : t('{count, plural, one {# sample} other {# samples}} early', { count: -fault.samples })}{' '}
        {figures?.found && line(shiftOf(figures.found), true)}
      </span>
    );
  if (shift !== 0) {
    const rate = mastersById.get(other)?.info.rate ?? 44_100;
    const moved = ticksToSamples(shift, rate);
    return (
      <span
        className="state"
        title={t('{milliseconds} ms', { milliseconds: formatNumber(1000 * ticksToSeconds(shift), 2) })}
      >
        {t('aligned by {count, plural, one {# sample} other {# samples}}', { count: Math.abs(moved) })}{' '}
        {line(0, false)}
      </span>
    );
  }
  if (!figures) return <span className="state text-secondary">{t('comparing with the master …')}</span>;
  return figures.found ? (
    <span className="state text-secondary">{t('in sync')}</span>
  ) : (
    <span
      className="state text-secondary"
      title={t('The two have too little in common to measure an offset')}
    >
      {t('offset can’t be measured')}
    </span>
  );
}
