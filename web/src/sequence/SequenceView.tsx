import { holdFrom, songAfter } from '@oiseau/album/edits';
import { tracksOf } from '@oiseau/album/model';
import { ticksToSamples } from '@oiseau/audio/time';
import {
  ChevronLeft,
  ChevronRight,
  Disc3,
  Headphones,
  ListMusic,
  MoveHorizontal,
  Repeat,
  SlidersHorizontal,
} from 'lucide-react';
import { useEffect, useEffectEvent, useMemo, useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import { Link, useLocation, useSearchParams } from 'react-router';
import { useAlbum } from '../album/AlbumContext.js';
import { PLAYER_RATE } from '../player/player.js';
import { usePlayer } from '../album/PlayerContext.js';
import { addressWith, entryState, useOpened } from '../ui/addressed.js';
import { IconButton } from '../ui/IconButton.js';
import { useShortcuts } from '../ui/useShortcuts.js';
import { Bench } from './bench/Bench.js';
import { TrackTable } from './TrackTable.js';
import { Outlines } from './Outlines.js';
import { Skyline } from './Skyline.js';
import { PartsDialog } from './PartsDialog.js';
import { LevelsPane } from './LevelsPane.js';
import { SpacingPane } from './SpacingPane.js';
import { useChosenSongs } from './useChosenSongs.js';
import type { KeepAfter } from './useTrackActions.js';
import { useTransitions, type Transitions } from './useTransitions.js';
import { rich, t } from '../ui/messages.js';

/** Order and spacing: the Skyline on top, under it the track table beside the Bench with the chosen transition. */
export function SequenceView() {
  return <Outlines masters={useAlbum('masters').masters}>{PARTS}</Outlines>;
}

const PARTS = <Parts />;
/** After so long on a row the address tells it. */
const ROW_TOLD_MS = 400;

/** The song in hand, in the address as well: checks lead to a song, or to a place of a part. */
function useSongInHand() {
  const { album, part, parts, showPart } = useAlbum('album', 'part', 'parts', 'showPart');
  const player = usePlayer();
  const [search, setSearch] = useSearchParams();
  const wanted = search.get('song');
  const all = useMemo(() => ({ songs: album.songs, tracks: tracksOf(album) }), [album]);
  const turnTo = (song: string): void => {
    const own = parts.find(({ songs }) => songs.some(({ id }) => id === song));
    if (own) showPart(own.number);
  };
  const chosen = useChosenSongs(all, part, wanted, turnTo);
  const turnOnce = useEffectEvent((to: { song: string | null; part: number; at: number }) => {
    if (to.song !== null) turnTo(to.song);
    if (to.part === 0) return;
    showPart(to.part);
    player.stop();
    player.seek(to.at * PLAYER_RATE);
  });
  const [wantedPart, wantedAt] = [Number(search.get('part')), Number(search.get('at'))];
  useEffect(() => {
    turnOnce({ song: wanted, part: wantedPart || 0, at: wantedAt || 0 });
  }, [wanted, wantedPart, wantedAt]);
  const { pathname } = useLocation();
  const tellRow = useEffectEvent((song: string) => {
    // A navigation to another view is not undone.
    if (window.location.pathname !== pathname) return;
    setSearch(addressWith({ song, part: null, at: null }), { replace: true, state: entryState() });
  });
  const row = chosen.id;
  useEffect(() => {
    if (row === '' || row === wanted) return undefined;
    // Not for every row that keys run over.
    const rest = setTimeout(() => tellRow(row), ROW_TOLD_MS);
    return () => clearTimeout(rest);
  }, [row, wanted]);
  // A hidden song has no transition of its own on the Bench: that of track 1 lies there, with its end.
  const { tracks } = part;
  const index = Math.max(
    0,
    tracks.findIndex(({ id }) => id === chosen.id),
  );
  const inHand = tracks[index]?.id ?? '';
  const last = all.tracks.length - 1;
  const place = all.tracks.findIndex(({ id }) => id === inHand);
  return {
    chosen,
    inHand,
    isFirst: place === 0,
    isLast: place === last,
    step: (by: number): void => chosen.choose(all.tracks[Math.max(0, Math.min(last, place + by))]?.id ?? ''),
    play: (id: string): void => {
      const placed = parts.flatMap(({ placement }) => placement.songs.get(id) ?? [])[0];
      chosen.choose(id);
      if (placed) void player.play(ticksToSamples(placed.start, PLAYER_RATE));
    },
  };
}

function Parts() {
  const { id: albumId, part } = useAlbum('id', 'part');
  const { tracks } = part;
  const { chosen, inHand, isFirst, isLast, step, play } = useSongInHand();
  const [hold, setHold] = useState(false);
  const levels = useOpened('levels');
  const spacing = useOpened('spacing');
  const spreading = useOpened('parts');
  const transitions = useTransitions(part.placement);
  const hearAll = (): void => transitions.hearAll(tracks.map(({ id }) => id));
  useShortcuts(
    // The levels have keys of their own.
    levels.isOpen || spacing.isOpen
      ? {}
      : {
          T: () => transitions.hear(inHand),
          L: () => transitions.setLoop(!transitions.loop),
          N: () => step(1),
          P: () => step(-1),
          A: hearAll,
        },
    true,
  );
  if (tracks.length === 0) return <NoTracks albumId={albumId} />;
  const kept: KeepAfter = (changed, id, before) => {
    const next = hold ? songAfter(before.part, id) : undefined;
    return next === undefined ? changed : holdFrom(changed, next, before.part, before.facts);
  };
  return (
    <div className="sequence">
      <Skyline chosen={chosen} />
      {levels.isOpen ? (
        <LevelsPane chosen={inHand} onHide={levels.close} />
      ) : spacing.isOpen ? (
        <SpacingPane onHide={spacing.close} />
      ) : (
        <div className="sequence-columns">
          <TrackTable chosen={chosen} onPlay={play} kept={kept} />
          <div className="sequence-bench">
            <Bench
              key={inHand}
              id={inHand}
              hold={hold}
              onHold={setHold}
              kept={kept}
              transitions={transitions}
              onDraft={(draft) => transitions.follow(draft && draft.placement)}
            />
            <Hearing
              transitions={transitions}
              onHear={() => transitions.hear(inHand)}
              onHearAll={hearAll}
              isFirst={isFirst}
              isLast={isLast}
              onStep={step}
              onLevels={levels.open}
              onSpacing={spacing.open}
              onParts={spreading.open}
            />
          </div>
        </div>
      )}
      {spreading.isOpen && <PartsDialog chosen={inHand} onHide={spreading.close} />}
    </div>
  );
}

function Hearing({
  transitions: { around, setAround, loop, setLoop, hearing },
  onHear,
  onHearAll,
  isFirst,
  isLast,
  onStep,
  onLevels,
  onSpacing,
  onParts,
}: {
  transitions: Transitions;
  onHear: () => void;
  onHearAll: () => void;
  isFirst: boolean;
  isLast: boolean;
  onStep: (by: number) => void;
  onLevels: () => void;
  onSpacing: () => void;
  onParts: () => void;
}) {
  return (
    <div className="hearing">
      <IconButton
        icon={ChevronLeft}
        label={t('Previous transition')}
        hint={t('Previous transition (P)')}
        disabled={isFirst}
        onClick={() => onStep(-1)}
      />
      <IconButton
        icon={ChevronRight}
        label={t('Next transition')}
        hint={t('Next transition (N)')}
        disabled={isLast}
        onClick={() => onStep(1)}
      />
      <Button
        variant={hearing ? 'primary' : 'outline-primary'}
        title={t('Play transition (T)')}
        aria-label={hearing ? t('Stop') : t('Play transition')}
        onClick={onHear}
      >
        <Headphones size={16} aria-hidden /> {hearing ? t('Stop') : t('Play')}
      </Button>
      <Form.Select
        size="sm"
        aria-label={t('Seconds around the transition')}
        value={around}
        onChange={({ target }) => setAround(Number(target.value))}
      >
        {[2, 4, 8, 15].map((seconds) => (
          <option key={seconds} value={seconds}>
            ± {seconds} s
          </option>
        ))}
      </Form.Select>
      <Button
        variant={loop ? 'primary' : 'outline-primary'}
        aria-pressed={loop}
        title={t('Loop the transition (L)')}
        onClick={() => setLoop(!loop)}
      >
        <Repeat size={16} aria-label={t('Loop')} />
      </Button>
      <span className="flex-grow-1" />
      <IconButton
        icon={Disc3}
        label={t('Parts')}
        hint={t('Discs and sides: breaks, names and distribution')}
        onClick={onParts}
      />
      <IconButton
        icon={MoveHorizontal}
        label={t('Suggest spacing')}
        hint={t('Suggest gaps from tails, beginnings and your other transitions')}
        onClick={onSpacing}
      />
      <Button variant="outline-primary" title={t('Loudness and peaks of all tracks')} onClick={onLevels}>
        <SlidersHorizontal size={16} aria-hidden /> {t('Levels')}
      </Button>
      <Button
        variant="outline-primary"
        title={t('Play all transitions, one after another (A)')}
        aria-label={t('Play all transitions')}
        onClick={onHearAll}
      >
        <ListMusic size={16} aria-hidden /> {t('Play all')}
      </Button>
    </div>
  );
}

function NoTracks({ albumId }: { albumId: string }) {
  return (
    <div className="empty">
      <p className="empty-lead">{t('No tracks yet.')}</p>
      <p>
        {rich('Add finished masters in <link>Masters</link>; each becomes a track.', {
          link: <Link to={`/albums/${albumId}/masters`} />,
        })}
      </p>
    </div>
  );
}
