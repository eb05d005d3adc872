import { useEffect, useRef } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';

/** Keys, written as in `Ctrl+Z`, `Alt+ArrowUp`, `Space`, `?`; on a Mac, Command counts as Ctrl. */
export type Shortcuts = Readonly<Record<string, (event: KeyboardEvent) => void>>;

/** `event` as it is written in a table of shortcuts. */
export function chord(
  event: Pick<KeyboardEvent, 'key' | 'ctrlKey' | 'metaKey' | 'altKey' | 'shiftKey'>,
): string {
  const key = event.key === ' ' ? 'Space' : event.key.length === 1 ? event.key.toUpperCase() : event.key;
  // Shift is part of a sign like “?” already; it only counts with letters and named keys.
  const shift = event.shiftKey && (event.key.length > 1 || /[a-z]/i.test(event.key));
  return [event.ctrlKey || event.metaKey ? 'Ctrl' : '', event.altKey ? 'Alt' : '', shift ? 'Shift' : '', key]
    .filter(Boolean)
    .join('+');
}

const isTyping = (target: EventTarget | null): boolean =>
  target instanceof HTMLElement &&
  (target.isContentEditable || ['INPUT', 'TEXTAREA', 'SELECT'].includes(target.tagName));
const pressableAt = (target: EventTarget | null): Element | null =>
  target instanceof Element ? target.closest('button, a, [role="menuitem"]') : null;

/**
 * Listens on the whole window; not while text is typed or a dialog is open.
 * @param first a view's own keys, heard before those of the frame around it
 */
export function useShortcuts(shortcuts: Shortcuts, first = false): void {
  // A button that was reached by the keyboard takes Space itself; one that was only clicked leaves it to the transport.
  const clicked = useRef<Element | null>(null);
  useEffect(() => {
    const point = (event: PointerEvent): void => void (clicked.current = pressableAt(event.target));
    window.addEventListener('pointerdown', point, { capture: true });
    return () => window.removeEventListener('pointerdown', point, { capture: true });
  }, []);
  useHotkeys(
    '*',
    (event) => {
      const pressed = chord(event);
      if (event.key === 'Tab') clicked.current = null;
      // With Alt an arrow moves nothing within a field: it may be ours there too.
      const typing = isTyping(event.target) && !/^Alt\+Arrow(Left|Right)$/.test(pressed);
      if (event.defaultPrevented || typing || document.querySelector('.modal.show')) return;
      const pressable = pressableAt(event.target);
      if (pressed === 'Space' && pressable && pressable !== clicked.current) return;
      const run = shortcuts[pressed];
      if (!run) return;
      event.preventDefault();
      run(event);
    },
    { enableOnFormTags: true, enableOnContentEditable: true, eventListenerOptions: { capture: first } },
  );
}
