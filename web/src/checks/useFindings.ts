import { acceptedReason, checkAlbum, type CheckSubject, type Finding } from '@oiseau/core';
import { useDeferredValue, useMemo } from 'react';
import { useAlbum } from '../album/AlbumContext.js';

/** What the checks found of the album as it stands now. */
export interface Checked {
  readonly subject: CheckSubject;
  /** What is wrong or doubtful and nobody has accepted. */
  readonly open: readonly Finding[];
  readonly accepted: readonly { readonly finding: Finding; readonly reason: string }[];
}

export function useFindings(): Checked {
  const { album, sequence, layout, facts, masters } = useAlbum();
  const details = useMemo(() => {
    // The older version of a master is kept on purpose; it counts as long as a track plays it.
    const replaced = new Set(masters.map(({ replaces }) => replaces));
    const kept = masters.filter(({ sha256 }) => !replaced.has(sha256) || facts.has(sha256));
    return new Map(kept.map((master) => [master.sha256, master]));
  }, [masters, facts]);
  const now = useMemo(
    () => ({ album, sequence, layout, masters: facts, details }),
    [album, sequence, layout, facts, details],
  );
  // An edit is drawn first; what the checks say of it comes right after.
  const subject = useDeferredValue(now);
  return useMemo(() => {
    const all = checkAlbum(subject).map((finding) => ({
      finding,
      reason: acceptedReason(subject, finding),
    }));
    return {
      subject,
      open: all.flatMap(({ finding, reason }) => (reason === null ? [finding] : [])),
      accepted: all.flatMap(({ finding, reason }) => (reason === null ? [] : [{ finding, reason }])),
    };
  }, [subject]);
}
