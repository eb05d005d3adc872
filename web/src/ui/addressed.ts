import { startTransition, useCallback, useOptimistic } from 'react';
import { useLocation, useNavigate, useSearchParams } from 'react-router';

/** The address that stands now (what was drawn last may be older), with one value changed or taken out. */
export function addressWith(changes: Readonly<Record<string, string | null>>): URLSearchParams {
  const next = new URLSearchParams(window.location.search);
  for (const [name, value] of Object.entries(changes))
    if (value === null) next.delete(name);
    else next.set(name, value);
  return next;
}

/** What the entry of the history carries: it stays when its address is made more exact. */
export const entryState = (): unknown => (window.history.state as { usr?: unknown } | null)?.usr;

/**
 * What is chosen of a view, kept in its address: `?name=value`, so that it can be sent, opened again and reloaded. It takes the place
 * of what was chosen before: Back leads out of the view and not through every choice.
 * @param fallback what is chosen where the address tells nothing; it is not written
 */
export function useAddressed<T extends string | null>(
  name: string,
  fallback: T,
): [string | T, (value: string | T) => void] {
  const [search, setSearch] = useSearchParams();
  // The router updates the address in a transition, which a busy page delays. The choice shows at once, so that
  // nothing typed meanwhile goes to the item chosen before.
  const [chosen, showChosen] = useOptimistic<string | T>(search.get(name) ?? fallback);
  const choose = useCallback(
    (value: string | T): void =>
      startTransition(() => {
        showChosen(value);
        setSearch(addressWith({ [name]: value === fallback ? null : value }), {
          ...{ replace: true, state: entryState() },
        });
      }),
    [setSearch, showChosen, name, fallback],
  );
  return [chosen, choose];
}

/** The name under which addresses tell what is open over a view. */
const OPEN = 'open';

/** A dialog or pane with an address, `?open=name`. Opening it is a step of the history: Back closes it. */
export function useOpened(name: string): {
  readonly isOpen: boolean;
  readonly open: () => void;
  readonly close: () => void;
} {
  const [search, setSearch] = useSearchParams();
  const { state } = useLocation() as { state: { readonly opened?: string } | null };
  const navigate = useNavigate();
  return {
    isOpen: search.get(OPEN) === name,
    open: () => setSearch(addressWith({ [OPEN]: name }), { state: { opened: name } }),
    close: () => {
      // A page opened by its address has no earlier entry of ours.
      if (state?.opened === name) void navigate(-1);
      else setSearch(addressWith({ [OPEN]: null }), { replace: true });
    },
  };
}
