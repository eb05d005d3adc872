import { addressOf, CONTRACT, type ListeningPageRecord } from '@oiseau/api';
import { useEffect, useMemo, useRef, useState } from 'react';
import { PLAYER_RATE } from '../player/player.js';
import { useGuest, usePlayer } from '../album/PlayerContext.js';
import { invitationAddresses, rowGuest, useHeardFiles, useOutlinesOfFiles } from '../proof/heard-files.js';
import { RowSilhouette } from '../proof/RowSilhouette.js';
import { formatWhen } from '../ui/format.js';
import { ThemeButton } from '../ui/IconButton.js';
import { useShortcuts } from '../ui/useShortcuts.js';
import { Deck } from './Deck.js';
import { EarlierNotes } from './EarlierNotes.js';
import { ListenerAnswer } from './ListenerAnswer.js';
import { ListenerNotes } from './ListenerNotes.js';
import { TrackList } from './TrackList.js';
import { useSaid } from './useSaid.js';
import { t } from '../ui/messages.js';

/** Seconds that the arrows go back and on. */
const STEP_SECONDS = 5;
/** The silence between two parts, as in the album's own player. */
const BETWEEN_ROWS_MS = 1000;

/** Cover, tracks with their gaps, the sound as it was rendered, notes, and one answer. */
export function Listening({ id, page }: { readonly id: string; readonly page: ListeningPageRecord }) {
  const player = usePlayer();
  const { title, revision, rows, earlier } = page;
  const [shown, setShown] = useState<{ readonly row: number; readonly from?: number }>({ row: 0 });
  const row = rows[shown.row] ?? { name: '', files: [], tracks: [] };
  const where = useMemo(() => invitationAddresses(id), [id]);
  const { heard, failure } = useHeardFiles(where, row.files);
  useGuest(
    useMemo(() => heard && rowGuest(where, title, heard, shown.from), [where, title, heard, shown.from]),
  );
  const outlines = useOutlinesOfFiles(where, heard ?? []);
  const said = useSaid(id);

  const position = (): number => player.state.position / PLAYER_RATE;
  const go = (to: number, seconds: number): void => {
    // What is still being opened begins there as soon as it is.
    if (to === shown.row && heard) void player.play(Math.max(0, seconds) * PLAYER_RATE);
    else setShown({ row: to, from: seconds });
  };
  useRowAfterRow(shown.row, rows.length, (next) => setShown({ row: next, from: 0 }));
  const startOf = (path: string): number | undefined => heard?.find(({ file }) => file.path === path)?.start;
  const note = (): void => {
    const at = position();
    const found = heard?.findLast(({ start }) => start <= at + 1e-6);
    if (found) said.add({ path: found.file.path, seconds: Math.min(at - found.start, found.seconds) });
  };
  const { tracks } = row;
  useShortcuts({
    Space: () => player.toggle(),
    M: note,
    ArrowLeft: () => go(shown.row, position() - STEP_SECONDS),
    ArrowRight: () => go(shown.row, position() + STEP_SECONDS),
  });
  const rowOf = (path: string): number =>
    rows.findIndex(({ files }) => files.some((file) => file.path === path));
  const hearNote = (path: string, seconds: number): void => {
    const to = rowOf(path);
    const before = rows[to]?.files.slice(
      0,
      rows[to].files.findIndex((file) => file.path === path),
    );
    if (before) go(to, before.reduce((sum, file) => sum + file.seconds, 0) + seconds);
  };
  return (
    <main className="listener">
      <Cover id={id} page={page} />
      <Deck
        rows={rows}
        row={shown.row}
        ready={heard !== null}
        failure={failure?.message ?? null}
        onRow={(to) => setShown({ row: to })}
        onNote={note}
      >
        {heard && (
          <RowSilhouette
            name={row.name}
            heard={heard}
            outlines={outlines}
            marks={tracks.map(({ start }) => start)}
            noted={said.notes.flatMap(({ path, seconds }) => {
              const start = startOf(path);
              return start === undefined ? [] : [start + seconds];
            })}
          />
        )}
      </Deck>
      <ListenerNotes said={said} rows={rows} onHear={hearNote} />
      {rows.map(({ name, tracks: list }, i) => (
        <TrackList
          key={i}
          name={rows.length > 1 ? name : t('Tracks')}
          tracks={list}
          sounding={i === shown.row}
          onHear={(seconds) => go(i, seconds)}
        />
      ))}
      <EarlierNotes earlier={earlier} revision={revision} onHear={go} />
      <ListenerAnswer id={id} said={said} revision={revision} />
    </main>
  );
}

/** Artwork, title, and for whom and until when the page is open. */
function Cover({ id, page }: { readonly id: string; readonly page: ListeningPageRecord }) {
  const { title, performer, revision, hasCover } = page;
  return (
    <header>
      {hasCover && (
        <img
          src={addressOf(CONTRACT.listeningCover, { params: { id } })}
          alt={t('Cover of {title}', { title })}
        />
      )}
      <div>
        <h1>{title || t('Untitled')}</h1>
        {performer !== '' && <p className="listener-performer">{performer}</p>}
        <p className="text-secondary">
          {t('Revision {revision}, for {name}; link valid until {endsAt}', {
            revision,
            name: page.name,
            endsAt: formatWhen(page.endsAt, new Date()),
          })}
        </p>
      </div>
      <span className="flex-grow-1" />
      <ThemeButton />
    </header>
  );
}

/** At the end of a row the next one begins, after a second; not for who has gone elsewhere meanwhile. */
function useRowAfterRow(row: number, rows: number, goOn: (next: number) => void): void {
  const player = usePlayer();
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined);
  const latest = useRef(goOn);
  useEffect(() => {
    latest.current = goOn;
  });
  useEffect(() => {
    player.onEnd = () => {
      if (row + 1 >= rows) return;
      timer.current = setTimeout(() => {
        if (!player.state.playing) latest.current(row + 1);
      }, BETWEEN_ROWS_MS);
    };
    return () => {
      player.onEnd = undefined;
      clearTimeout(timer.current);
    };
  }, [player, row, rows]);
}
