import { asItCame, leavingOut, loudestMoment, placedMoment } from '@oiseau/album/edits';
import { dbToLinear, linearToDb } from '@oiseau/audio/dsp';
import { integratedLoudness } from '@oiseau/audio/measure';
import { layOutPart } from '@oiseau/album/layout';
import { soundKey, type SequencedSong } from '@oiseau/album/model';
import { ticksToSamples, ticksToSeconds, type Interval, type Samples, type Ticks } from '@oiseau/audio/time';
import { useEffect, useMemo, useState } from 'react';
import { useAlbum } from '../album/AlbumContext.js';
import { useHeardFigures } from '../album/SoundsContext.js';
import { usePowers } from '../api/queries.js';
import { PLAYER_RATE } from '../player/player.js';
import { useLens, usePlayer, usePlayerState } from '../album/PlayerContext.js';
import type { Gains, MatchedLoudness } from '../player/protocol.js';
import type { SoundDesk } from './useSoundDesk.js';

/** Listening without knowing which is which. */
export interface Blind {
  /** X is the original. Hidden until the user has chosen. */
  readonly xCame: boolean;
  readonly heard: 'X' | 'Y';
  readonly choice: 'X' | 'Y' | null;
}

export interface Hearing {
  /** What is heard is the song as it came. */
  readonly came: boolean;
  swap(): void;
  /** By how much what is heard now is turned down, so that both are alike, dB (0 or less); null: not known yet. */
  readonly match: {
    readonly nowDb: number;
    readonly cameDb: number;
    readonly over: 'song' | 'moment';
  } | null;
  /** The loudest moment of the song in hand, in its master; null where there is none. */
  readonly moment: Interval<Ticks> | null;
  /** Plays the loudest moments of all songs, or stops. */
  walk(): void;
  /** Plays the loudest moment of the song in hand over and over again, or stops. */
  loop(): void;
  /** Plays a song from its start. */
  play(id: string): void;
  readonly blind: Blind | null;
  beginBlind(): void;
  hearBlind(which: 'X' | 'Y'): void;
  choose(which: 'X' | 'Y'): void;
  endBlind(): void;
}

const UNITY: Gains = { own: 1, other: 1 };
/** A match is asked for after so long a rest of the sound, ms. */
const MATCH_REST_MS = 120;

/** Gains that turn the louder one of two down to the other. */
export function gainsOf({ own, other }: MatchedLoudness): Gains {
  if (own === null || other === null) return UNITY;
  const least = Math.min(own, other);
  return { own: dbToLinear(least - own), other: dbToLinear(least - other) };
}

/** Loudness of a stretch in both programmes; measured again whenever the sound has rested. */
function useMatchOver(stretch: Interval<Samples> | null, soundName: string): MatchedLoudness | null {
  const player = usePlayer();
  const [loudness, setLoudness] = useState<MatchedLoudness | null>(null);
  const { start, end } = stretch ?? {};
  useEffect(() => {
    if (start === undefined || end === undefined || !(end > start)) return undefined;
    let current = true;
    const timer = setTimeout(() => {
      player.match({ start, end }).then(
        (matched) => void (current && setLoudness(matched)),
        () => undefined,
      );
    }, MATCH_REST_MS);
    return () => {
      current = false;
      clearTimeout(timer);
    };
  }, [player, soundName, start, end]);
  return loudness;
}

/** Integrated loudness of a whole track before and after treatment, where both are known. */
function wholeLoudness(
  song: SequencedSong,
  powers: Float32Array | undefined,
  treated: { readonly integratedLufs: number | null } | undefined,
): MatchedLoudness | null {
  if (!treated || !powers) return null;
  const { in: start, out, gainDb } = song.region;
  const other = integratedLoudness(
    powers.subarray(Math.round(10 * ticksToSeconds(start)), Math.round(10 * ticksToSeconds(out))),
  );
  return { own: treated.integratedLufs, other: other === null ? null : other + gainDb };
}

/** Hearing the song in hand as it is now and as it came, at the same loudness and at the same moment. */
export function useHearing({ target, album, dragging, leftOut }: SoundDesk): Hearing {
  const { facts, masters, part: shown } = useAlbum('facts', 'masters', 'part');
  const player = usePlayer();
  const heardOf = useHeardFigures();
  const powers = usePowers(masters);
  const part = useMemo(() => layOutPart(album, facts, shown.number), [album, facts, shown.number]);
  const lens = useMemo(
    () => ({
      sequence: leavingOut(part.sequence, target, leftOut),
      other: asItCame(part.sequence, target),
      soon: dragging,
    }),
    [part, target, leftOut, dragging],
  );
  useLens(lens);
  const [came, setCame] = useState(false);
  const [blind, setBlind] = useState<Blind | null>(null);
  // The album's treatment is heard on the first song until another one is in hand.
  const song = part.sequence.songs.find(({ id }) => id === target) ?? part.sequence.songs[0];
  const momentOf = (of: SequencedSong): Interval<Samples> | null => {
    const found = placedMoment(of, part.placement, powers.get(of.region.master));
    return (
      found && {
        start: ticksToSamples(found.start, PLAYER_RATE),
        end: ticksToSamples(found.end, PLAYER_RATE),
      }
    );
  };
  const moment = song ? momentOf(song) : null;
  const hearingStretch = usePlayerState(({ hearing, playing }) => hearing && playing);

  const whole =
    song && target !== null && leftOut.size === 0
      ? wholeLoudness(song, powers.get(song.region.master), heardOf.get(song.id))
      : null;
  const soundName = useMemo(() => soundKey(lens.sequence) + soundKey(lens.other), [lens]);
  const moments = useMatchOver(moment, soundName);
  const over = whole && !hearingStretch && !dragging ? 'song' : 'moment';
  const matched = over === 'song' ? whole : moments;

  const heardCame = blind ? blind.xCame === (blind.heard === 'X') : came;
  const gains = matched ? gainsOf(matched) : UNITY;
  const { own, other } = gains;
  useEffect(() => player.hearOther(heardCame, { own, other }), [player, heardCame, own, other]);

  const hearAgain = (stretches: readonly Interval<Samples>[], loop: boolean): void => {
    if (hearingStretch) player.stop();
    else if (stretches.length > 0) void player.hear({ stretches, loop });
  };
  return {
    came: heardCame,
    swap: () => (blind ? setBlind({ ...blind, heard: blind.heard === 'X' ? 'Y' : 'X' }) : setCame(!came)),
    match: matched && { nowDb: linearToDb(own), cameDb: linearToDb(other), over },
    moment: song && target !== null ? loudestMoment(song, powers.get(song.region.master)) : null,
    walk: () =>
      hearAgain(
        part.sequence.songs.flatMap((each) => momentOf(each) ?? []),
        false,
      ),
    loop: () => hearAgain(moment ? [moment] : [], true),
    play: (id) => {
      const placed = part.placement.songs.get(id);
      if (placed) void player.play(ticksToSamples(placed.start, PLAYER_RATE));
    },
    blind,
    beginBlind: () => {
      const [draw = 0] = crypto.getRandomValues(new Uint8Array(1));
      setBlind({ xCame: draw % 2 === 0, heard: 'X', choice: null });
      if (!player.state.playing && moment) void player.hear({ stretches: [moment], loop: true });
    },
    hearBlind: (heard) => setBlind(blind && { ...blind, heard }),
    choose: (choice) => setBlind(blind && { ...blind, choice }),
    endBlind: () => setBlind(null),
  };
}
