import {
  applyCutting,
  changePiece,
  cutAt,
  joinToPrevious,
  moveCut,
  pieceAt,
  type Cutting,
  type PieceJoin,
} from '@oiseau/formats/cutting';
import { nearestZeroCrossing } from '@oiseau/audio/dsp';
import { Silhouette, type MasterMeasurement } from '@oiseau/audio/measure';
import { useCallback, useMemo, useState } from 'react';
import { useNavigate } from 'react-router';
import { useAlbum } from '../album/AlbumContext.js';
import { useSilhouettes } from '../api/queries.js';
import type { MasterRecord } from '@oiseau/api';
import { masterPcm } from '../masters/master-pcm.js';
import { masterGuest } from '../player/guest.js';
import { PLAYER_RATE } from '../player/player.js';
import { useGuest, usePlayer } from '../album/PlayerContext.js';
import { useNotices } from '../ui/Notices.js';
import { useShortcuts } from '../ui/useShortcuts.js';
import { CutHead } from './CutHead.js';
import { CutSilhouette } from './CutSilhouette.js';
import { JoinChoice, joinOf, START_CHOICE, type Choice } from './JoinChoice.js';
import { MarkSources } from './MarkSources.js';
import { PieceList } from './PieceList.js';
import { SilenceFinder } from './SilenceFinder.js';
import { useCutting } from './useCutting.js';
import { useCutView } from './useCutView.js';
import { t } from '../ui/messages.js';

/** How far a cut may move to fall on a zero crossing, in seconds. */
const CROSSING_REACH = 0.01;
/** One step of a cut by key, in seconds: a CD frame. */
const NUDGE = 1 / 75;

/** The cutting of a recording in hand: its pieces, what keys do to them, and the tracks that are made of them. */
function useCutDesk(master: MasterRecord, choice: Choice) {
  const { id, album, masters, edit } = useAlbum('id', 'album', 'masters', 'edit');
  const { rate } = master.info;
  const player = usePlayer();
  const navigate = useNavigate();
  const { complain } = useNotices();
  const stored = useSilhouettes(masters).get(master.sha256);
  const outline = useMemo(() => stored ?? new Silhouette(new Uint16Array(0)), [stored]);
  const inHand = useCutting(id, album, master);
  const { cutting, change, undo, redo, forget } = inHand;
  const [chosen, setChosen] = useState(0);
  const { view, zoom, show } = useCutView(master.info);
  useGuest(useMemo(() => masterGuest(master), [master]));

  const play = useCallback(
    (sample: number): void => void player.play((sample / rate) * PLAYER_RATE),
    [player, rate],
  );
  const heard = (): number => Math.round((player.state.position / PLAYER_RATE) * rate);
  const choose = (index: number, look = true): void => {
    setChosen(index);
    if (look) show(cutting.pieces[index]?.start ?? 0);
  };
  const cutHere = (): void => {
    const at = heard();
    const next = cutAt(cutting, at);
    change(next);
    setChosen(pieceAt(next, at));
  };
  const join = (index: number): void => {
    change(joinToPrevious(cutting, index));
    setChosen(Math.max(0, index - 1));
  };
  const nudge = (seconds: number): void =>
    change(moveCut(cutting, chosen, (cutting.pieces[chosen]?.start ?? 0) + seconds * rate));
  useShortcuts(
    {
      C: cutHere,
      Delete: () => join(chosen),
      'Alt+ArrowLeft': () => nudge(-NUDGE),
      'Alt+ArrowRight': () => nudge(NUDGE),
      ArrowUp: () => choose(Math.max(0, chosen - 1)),
      ArrowDown: () => choose(Math.min(cutting.pieces.length - 1, chosen + 1)),
      Enter: () => play(cutting.pieces[chosen]?.start ?? 0),
      'Ctrl+Z': undo,
      'Ctrl+Y': redo,
      'Ctrl+Shift+Z': redo,
    },
    true,
  );

  const make = async (): Promise<void> => {
    const final = choice.crossings ? await onCrossings(cutting, master) : cutting;
    const made = final.pieces.filter(({ keep }) => keep).length;
    const join: PieceJoin = joinOf(choice);
    edit(
      t('{count, plural, one {# track} other {# tracks}} cut from “{name}”', {
        count: made,
        name: master.name,
      }),
      (before) =>
        applyCutting(before, final, { sha256: master.sha256, rate, outline }, join, () =>
          crypto.randomUUID(),
        ),
    );
    forget();
    await navigate(`/albums/${id}/sequence`);
  };
  return {
    ...{ id, rate, outline, inHand, cutting, change, chosen, choose, join, play, view, zoom, show },
    make: (): void => void make().catch(complain),
  };
}

export function CutDesk({ master, measurement }: { master: MasterRecord; measurement: MasterMeasurement }) {
  const [preview, setPreview] = useState<Cutting | null>(null);
  const [choice, setChoice] = useState(START_CHOICE);
  const desk = useCutDesk(master, choice);
  const { id, rate, outline, inHand, cutting, change, chosen, choose, join, play, view, zoom, show, make } =
    desk;
  const { length } = master.info;
  const kept = cutting.pieces.filter(({ keep }) => keep).length;
  const shared = { rate, outline, cutting, preview, chosen, onChange: change, onPlay: play, onZoom: zoom };
  const whole = useMemo(() => ({ from: 0, to: length }), [length]);
  return (
    <div className="cut-desk">
      <CutHead album={id} master={master} cutting={inHand} kept={kept} onMake={make} />
      <CutSilhouette
        {...shared}
        label={t('Whole recording')}
        className="whole"
        view={whole}
        onChoose={(index) => choose(index)}
        onPlay={(sample) => {
          show(sample);
          play(sample);
        }}
      />
      <CutSilhouette
        {...shared}
        label={t('Close-up of the recording')}
        className="close"
        view={view}
        onChoose={(index) => choose(index, false)}
      />
      <div className="cut-columns">
        <PieceList
          rate={rate}
          cutting={cutting}
          chosen={chosen}
          onChoose={choose}
          onPlay={play}
          onJoin={join}
          onMove={(index, to) => change(moveCut(cutting, index, to))}
          onChange={(index, piece) => change(changePiece(cutting, index, piece))}
        />
        <div className="cut-tools">
          <SilenceFinder
            master={master}
            measurement={measurement}
            outline={outline}
            cutting={cutting}
            onPreview={setPreview}
            onCut={change}
          />
          <MarkSources master={master} cutting={cutting} onCut={change} />
          <JoinChoice choice={choice} onChange={setChoice} />
        </div>
      </div>
    </div>
  );
}

/** Every cut on the nearest zero crossing, so that none makes a step. */
async function onCrossings(cutting: Cutting, master: MasterRecord): Promise<Cutting> {
  const reach = Math.round(CROSSING_REACH * master.info.rate);
  let moved = cutting;
  for (const [i, { start }] of cutting.pieces.entries())
    if (i > 0) moved = moveCut(moved, i, await nearestZeroCrossing(masterPcm(master), start, reach));
  return moved;
}
