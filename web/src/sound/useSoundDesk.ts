import { editSound } from '@oiseau/album/edits';
import { type StageName, NO_TREATMENT, treatmentWords, type Treatment } from '@oiseau/audio/stages';
import { songOf, type Album } from '@oiseau/album/model';
import { useMemo, useState } from 'react';
import { useAlbum } from '../album/AlbumContext.js';
import { say, t } from '../ui/messages.js';

/** What lies in the hand: the treatment of one song, or (null) of the album. */
export interface SoundDesk {
  /** A song's id; null: the album. */
  readonly target: string | null;
  /** As it is shown: with what is being dragged. */
  readonly treatment: Treatment;
  /** The album with what is being dragged. */
  readonly album: Album;
  readonly dragging: boolean;
  /** Stages that are left out for a moment; nothing of the album. */
  readonly leftOut: ReadonlySet<StageName>;
  leaveOut(stage: StageName, out: boolean): void;
  /** One step. @param mergeKey steps that follow each other with one key are one */
  change(change: (treatment: Treatment) => Treatment, mergeKey?: string): void;
  /** Shown and heard, and no step yet. */
  drag(treatment: Treatment): void;
  /** What was dragged becomes a step. */
  drop(): void;
  takeBack(): void;
}

const NOTHING_LEFT_OUT: ReadonlySet<StageName> = new Set();

export const treatmentOf = (album: Album, target: string | null): Treatment =>
  target === null
    ? { ...NO_TREATMENT, ...album.sound }
    : (songOf(album, target)?.region.sound ?? NO_TREATMENT);

/** `sound of “Keeper’s Round”: low cut 28 Hz` */
export function soundWords(album: Album, target: string | null): string {
  const whose = target === null ? t('the album') : `“${songOf(album, target)?.title || t('Untitled')}”`;
  return t('sound of {whose}: {words}', {
    whose,
    words: treatmentWords(treatmentOf(album, target)).map(say).join(', ') || t('untreated'),
  });
}

export function useSoundDesk(target: string | null): SoundDesk {
  const { album: current, edit } = useAlbum('album', 'edit');
  const [dragged, setDragged] = useState<Treatment | null>(null);
  const [leftOut, setLeftOut] = useState(NOTHING_LEFT_OUT);
  const album = useMemo(
    () => (dragged ? editSound(current, target, () => dragged) : current),
    [current, target, dragged],
  );
  const change: SoundDesk['change'] = (by, mergeKey) => {
    setDragged(null);
    edit(
      (_before, after) => soundWords(after, target),
      (before) => editSound(before, target, by),
      mergeKey,
    );
  };
  return {
    target,
    treatment: treatmentOf(album, target),
    album,
    dragging: dragged !== null,
    leftOut,
    leaveOut: (stage, out) =>
      setLeftOut(
        (before) => new Set([...before].filter((each) => each !== stage).concat(out ? [stage] : [])),
      ),
    change,
    drag: setDragged,
    drop: () => {
      if (dragged) change(() => dragged);
    },
    takeBack: () => setDragged(null),
  };
}
