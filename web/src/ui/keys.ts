import type { KeyboardEvent } from 'react';

/** Does what a key stands for; whatever is around hears nothing of it then. @param actions by the name of the key */
export function onKey(event: KeyboardEvent, actions: Readonly<Record<string, () => void>>): void {
  const action = Object.hasOwn(actions, event.key) ? actions[event.key] : undefined;
  if (!action) return;
  event.preventDefault();
  event.stopPropagation();
  action();
}
