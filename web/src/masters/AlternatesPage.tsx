import { DndContext, PointerSensor, useDraggable, useDroppable, useSensor, useSensors } from '@dnd-kit/core';
import {
  alternateName,
  alternateNames,
  alternateOf,
  mastersPlayed,
  masterTicks,
  positionOf,
  type Song,
} from '@oiseau/album/model';
import type { Part } from '@oiseau/album/layout';
import { renameAlternate, takeAlternates } from '@oiseau/album/edits';
import type { MasterRecord } from '@oiseau/api';
import { ArrowLeft, GripVertical } from 'lucide-react';
import { useMemo, useState } from 'react';
import { Link } from 'react-router';
import { useAlbum } from '../album/AlbumContext.js';
import { songName } from '../album/song-name.js';
import { DraftField } from '../ui/DraftField.js';
import { AlternateCell } from './AlternateCell.js';
import { AlternateOffers } from './AlternateOffers.js';
import { currentMasters } from './useAlternateOffers.js';
import { DRAG_WORDS } from '../ui/drag-words.js';
import { t } from '../ui/messages.js';
import { clockText } from '../ui/format.js';

/** The usual names, until one was used. */
const USUAL = ['instrumental', 'a cappella'];

/** The kinds of recordings: those that songs have, and those that were added here and have none yet. */
function useKinds() {
  const { album, edit } = useAlbum('album', 'edit');
  const [added, setAdded] = useState<readonly string[]>([]);
  const named = useMemo(() => alternateNames(album), [album]);
  const isBegun = named.length + added.length > 0;
  const names = [...new Set([...(isBegun ? named : USUAL), ...added])];
  return {
    names,
    /** Why a kind can't be called so. */
    faultOf: (text: string, own = ''): string | undefined => {
      const read = alternateName.safeParse(text.trim());
      if (!read.success) return read.error.issues[0]?.message;
      return names.some((name) => name !== own && name.toLowerCase() === text.trim().toLowerCase())
        ? t('Another version has this name.')
        : undefined;
    },
    add: (name: string): void => setAdded([...new Set([...(isBegun ? added : USUAL), name])]),
    rename: (from: string, to: string): void => {
      setAdded(added.map((name) => (name === from ? to : name)));
      if (named.includes(from))
        edit(t('“{from}” called “{to}”', { from, to }), (before) => renameAlternate(before, from, to));
      else if (!added.includes(from))
        setAdded([...added, ...names.map((name) => (name === from ? to : name))]);
    },
  };
}
type Kinds = ReturnType<typeof useKinds>;

/** Puts a master in the place of a song and a kind. */
type Take = (song: string, name: string, master: string) => void;

/** Songs by their other recordings: what is there, what is missing, and how each lies to its master. */
export function AlternatesPage() {
  const { id, album, parts, masters, edit } = useAlbum('id', 'album', 'parts', 'masters', 'edit');
  const kinds = useKinds();
  const free = useMemo(() => {
    const played = new Set(mastersPlayed(album));
    return currentMasters(masters).filter(({ sha256 }) => !played.has(sha256));
  }, [album, masters]);
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 4 } }));
  const take: Take = (song, name, master) => {
    const file = masters.find(({ sha256 }) => sha256 === master)?.name ?? t('a master');
    edit(t('“{file}” as {name} of {songName}', { file, name, songName: songName(parts, song) }), (before) =>
      takeAlternates(before, [{ song, name, master }]),
    );
  };
  return (
    <div className="alternates-page">
      <div className="view-head">
        <Link to={`/albums/${id}/masters`} className="btn btn-link p-0">
          <ArrowLeft size={16} aria-hidden /> {t('Masters')}
        </Link>
        <h2>{t('Alternate versions')}</h2>
        <span className="text-secondary">
          {t('instrumentals, clean versions, stems: one file for each track and version')}
        </span>
        <span className="flex-grow-1" />
        <label className="new-kind">
          <span>{t('Add version')}</span>
          <DraftField
            label={t('Name of the new version')}
            className="form-control-sm"
            value=""
            placeholder={t('clean, tv, drums …')}
            fault={(text) => (text.trim() === '' ? undefined : kinds.faultOf(text))}
            onCommit={(text) => {
              if (text.trim() !== '') kinds.add(text.trim());
            }}
          />
        </label>
      </div>
      <AlternateOffers />
      <DndContext
        accessibility={DRAG_WORDS}
        sensors={sensors}
        onDragEnd={({ active, over }) => {
          const place = over?.data.current as { song: string; name: string } | undefined;
          if (place) take(place.song, place.name, String(active.id));
        }}
      >
        {album.songs.length === 0 ? (
          <p className="empty-lead">{t('Add masters first: alternate versions belong to tracks.')}</p>
        ) : (
          <AlternatesTable kinds={kinds} free={free} onTake={take} />
        )}
        {free.length > 0 && (
          <section className="free-masters" aria-label={t('Unassigned masters')}>
            <h3>{t('Unassigned')}</h3>
            {free.map((master) => (
              <FreeMaster key={master.sha256} master={master} />
            ))}
          </section>
        )}
      </DndContext>
    </div>
  );
}

/** @param free masters that no song plays */
function AlternatesTable({
  kinds: { names, faultOf, rename },
  free,
  onTake,
}: {
  readonly kinds: Kinds;
  readonly free: readonly MasterRecord[];
  readonly onTake: Take;
}) {
  const { parts } = useAlbum('parts');
  return (
    <div className="alternates-scroll">
      <table className="table alternates-table">
        <thead>
          <tr>
            <th className="num">{t('No.')}</th>
            <th>{t('Track')}</th>
            {names.map((name) => (
              <th key={name}>
                <DraftField
                  label={t('Name of the version “{name}”', { name })}
                  className="plain"
                  value={name}
                  fault={(text) => faultOf(text, name)}
                  onCommit={(text) => rename(name, text.trim())}
                />
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {parts.flatMap((part) =>
            part.songs.map((song) => (
              <tr key={song.id}>
                <td className="num">{placeIn(part, song)}</td>
                <td className="song">
                  {song.title || t('Untitled')}{' '}
                  <small className="text-secondary">{lengthIn(part, song)}</small>
                </td>
                {names.map((name) => (
                  <Place key={name} song={song} name={name}>
                    <AlternateCell
                      song={song}
                      name={name}
                      alternate={alternateOf(song, name)}
                      free={free}
                      onTake={(master) => onTake(song.id, name, master)}
                    />
                  </Place>
                ))}
              </tr>
            )),
          )}
        </tbody>
      </table>
    </div>
  );
}

function placeIn(part: Part, { id }: Song): string {
  const number = part.tracks.findIndex((track) => track.id === id) + 1;
  if (number === 0) return '–';
  return part.of > 1 ? positionOf(part, number) : String(number);
}

function lengthIn({ placement }: Part, { id }: Song): string {
  const placed = placement.songs.get(id);
  return placed ? clockText((placed.end - placed.start) as typeof placed.end, 1) : '';
}

/** A cell onto which a master can be dragged. */
function Place({ song, name, children }: { song: Song; name: string; children: React.ReactNode }) {
  const { setNodeRef, isOver } = useDroppable({
    id: `${song.id} ${name}`,
    data: { song: song.id, name },
  });
  return (
    <td ref={setNodeRef} className={isOver ? 'place over' : 'place'}>
      {children}
    </td>
  );
}

function FreeMaster({ master: { sha256, name, info } }: { master: MasterRecord }) {
  const { setNodeRef, attributes, listeners, transform } = useDraggable({ id: sha256 });
  return (
    <span
      ref={setNodeRef}
      className="free-master"
      style={
        transform ? { transform: `translate(${transform.x}px, ${transform.y}px)`, zIndex: 5 } : undefined
      }
      title={t('Drag into the table')}
      {...attributes}
      {...listeners}
    >
      <GripVertical size={14} aria-hidden />
      {name} <small className="text-secondary">{clockText(masterTicks(info), 1)}</small>
    </span>
  );
}
