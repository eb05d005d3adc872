import {
  acceptedReason,
  checkWhole,
  editionFindings,
  errorsFirst,
  type CheckSubject,
  type Finding,
} from '@oiseau/checks';
import { createContext, useContext, useDeferredValue, useMemo, type ReactNode } from 'react';
import { useAlbum } from '../album/AlbumContext.js';
import { useSounds } from '../album/SoundsContext.js';
import { useCoverFacts } from '../api/queries.js';

/** What the checks found of the album as it stands now. */
export interface Checked {
  readonly subject: CheckSubject;
  /** Whether it has been checked: a view is drawn before its first findings are there. */
  readonly known: boolean;
  /** All findings, accepted or not. */
  readonly all: readonly Finding[];
  /** Open findings. */
  readonly open: readonly Finding[];
  readonly accepted: readonly { readonly finding: Finding; readonly reason: string }[];
}

const FindingsContext = createContext<Checked | null>(null);

export function useFindings(): Checked {
  const checked = useContext(FindingsContext);
  if (!checked) throw new Error('useFindings outside an album');
  return checked;
}

/** Checks the album once for all its views. */
export function FindingsProvider({ children }: { children: ReactNode }) {
  const { album, parts, facts, mastersById, editing, edition } = useAlbum(
    ...(['album', 'parts', 'facts', 'mastersById', 'editing', 'edition'] as const),
  );
  const whole = editing.album;
  const { figures, lineUps, sides } = useSounds();
  const cover = useCoverFacts(album.artwork) ?? null;
  const now = useMemo(
    () => ({
      whole,
      edition,
      subject: { album, parts, masters: facts, details: mastersById, sounds: figures, lineUps, sides, cover },
    }),
    [whole, edition, album, parts, facts, mastersById, figures, lineUps, sides, cover],
  );
  // An edit, and the album itself, is drawn first; what the checks say of it comes right after.
  const soon = useDeferredValue<typeof now | null>(now, null);
  const known = soon !== null;
  const { subject, ...of } = soon ?? now;
  const own = of.whole.editions.find(({ name }) => name === of.edition);
  const checked = useMemo(() => {
    const ofEdition = own ? editionFindings(of.whole, own) : [];
    const all = (known ? errorsFirst([...checkWhole(subject), ...ofEdition]) : []).map((finding) => ({
      finding,
      reason: acceptedReason(subject, finding),
    }));
    return {
      subject,
      known,
      all: all.map(({ finding }) => finding),
      open: all.flatMap(({ finding, reason }) => (reason === null ? [finding] : [])),
      accepted: all.flatMap(({ finding, reason }) => (reason === null ? [] : [{ finding, reason }])),
    };
  }, [subject, known, of.whole, own]);
  return <FindingsContext value={checked}>{children}</FindingsContext>;
}
