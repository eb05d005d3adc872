import { holdFrom, layOutAlbum, ticksToSamples, type Album } from '@oiseau/core';
import { ChevronLeft, ChevronRight, Headphones, ListMusic, Repeat, SlidersHorizontal } from 'lucide-react';
import { useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import { Link, useSearchParams } from 'react-router';
import { useAlbum } from '../album/AlbumContext.js';
import { PLAYER_RATE } from '../player/player.js';
import { usePlayer, usePreview } from '../player/PlayerContext.js';
import { IconButton } from '../ui/IconButton.js';
import { useShortcuts } from '../ui/useShortcuts.js';
import { Bench } from './bench/Bench.js';
import { Ledger } from './Ledger.js';
import { Outlines } from './Outlines.js';
import { Skyline } from './Skyline.js';
import { LevelsDialog } from './LevelsDialog.js';
import { useChosenTracks } from './useChosenTracks.js';
import { useTransitions, type Transitions } from './useTransitions.js';

/** Order and spacing: the Skyline on top, under it the ledger beside the Bench with the chosen transition. */
export function SequenceView() {
  return <Outlines masters={useAlbum().masters}>{PARTS}</Outlines>;
}

const PARTS = <Parts />;

function Parts() {
  const { id, album, layout, facts } = useAlbum();
  const player = usePlayer();
  const preview = usePreview();
  // Checks lead to a track by its number.
  const [search] = useSearchParams();
  const chosen = useChosenTracks(album, Math.max(0, (Number(search.get('track')) || 1) - 1));
  const [hold, setHold] = useState(false);
  const [levels, setLevels] = useState(false);
  const transitions = useTransitions(layout);
  const last = album.tracks.length - 1;
  const index = Math.max(0, chosen.index);
  const step = (by: number): void => chosen.choose(Math.max(0, Math.min(last, index + by)));
  useShortcuts(
    {
      T: () => transitions.hear(index),
      L: () => transitions.setLoop(!transitions.loop),
      N: () => step(1),
      P: () => step(-1),
      A: () => transitions.hearAll(),
    },
    true,
  );
  if (album.tracks.length === 0) {
    return (
      <div className="empty">
        <p className="empty-lead">Nothing to put in order yet.</p>
        <p>
          Bring the finished masters in under <Link to={`/albums/${id}/masters`}>Masters</Link>; each becomes
          a track here.
        </p>
      </div>
    );
  }
  const play = (track: number): void => {
    const placed = track < 0 ? layout.hidden : layout.tracks[track];
    chosen.choose(track);
    if (placed) void player.play(ticksToSamples(placed.audioStart, PLAYER_RATE));
  };
  const kept = (changed: Album, at: number): Album =>
    hold ? holdFrom(changed, at + 1, layout, facts) : changed;
  // What is being dragged is heard before it is an edit.
  const draft = (edited: Album | null): void => {
    preview(edited);
    transitions.follow(edited && layOutAlbum(edited, facts).layout);
  };
  return (
    <div className="sequence">
      <Skyline chosen={chosen} />
      <div className="sequence-columns">
        <Ledger chosen={chosen} onPlay={play} kept={kept} />
        <div className="sequence-bench">
          <Bench
            key={album.tracks[index]?.id}
            index={index}
            hold={hold}
            onHold={setHold}
            kept={(changed) => kept(changed, index)}
            transitions={transitions}
            onDraft={draft}
          />
          <Hearing
            transitions={transitions}
            index={index}
            last={last}
            onStep={step}
            onLevels={() => setLevels(true)}
          />
        </div>
      </div>
      {levels && <LevelsDialog chosen={index} onHide={() => setLevels(false)} />}
    </div>
  );
}

function Hearing({
  transitions: { around, setAround, loop, setLoop, hearing, hear, hearAll },
  index,
  last,
  onStep,
  onLevels,
}: {
  transitions: Transitions;
  index: number;
  last: number;
  onStep: (by: number) => void;
  onLevels: () => void;
}) {
  return (
    <div className="hearing">
      <IconButton
        icon={ChevronLeft}
        label="Transition before"
        hint="Transition before (P)"
        disabled={index === 0}
        onClick={() => onStep(-1)}
      />
      <IconButton
        icon={ChevronRight}
        label="Next transition"
        hint="Next transition (N)"
        disabled={index === last}
        onClick={() => onStep(1)}
      />
      <Button
        variant={hearing ? 'primary' : 'outline-primary'}
        title="Hear the transition (T)"
        onClick={() => hear(index)}
      >
        <Headphones size={16} aria-hidden /> {hearing ? 'Stop' : 'Hear it'}
      </Button>
      <Form.Select
        size="sm"
        aria-label="Seconds around the transition"
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
        title="Over and over again (L)"
        onClick={() => setLoop(!loop)}
      >
        <Repeat size={16} aria-label="Loop" />
      </Button>
      <span className="flex-grow-1" />
      <Button variant="outline-primary" title="Loudness and peaks of all tracks" onClick={onLevels}>
        <SlidersHorizontal size={16} aria-hidden /> Levels
      </Button>
      <Button
        variant="outline-primary"
        title="Hear all transitions, one after the other (A)"
        onClick={hearAll}
      >
        <ListMusic size={16} aria-hidden /> Hear all
      </Button>
    </div>
  );
}
