import { useEffect, useRef, type PointerEvent } from 'react';

/** A press becomes a drag only after so many pixels, so that nothing moves by a stray click. */
export const DRAG_AFTER_PX = 4;

/** What a drag does; `Grip` is what is held, as it was when it was grabbed. */
export interface PointerDrag<Grip, Surface extends Element> {
  /** What a press takes hold of; null: nothing, and the press is over. */
  grab(event: PointerEvent<Surface>): Grip | null;
  /** Held and moved. @param by pixels from where it was grabbed */
  move(grip: Grip, by: { readonly x: number; readonly y: number }, event: PointerEvent<Surface>): void;
  /** Let go after it was moved. */
  drop(grip: Grip, event: PointerEvent<Surface>): void;
  /** Let go where it was grabbed. */
  press?(grip: Grip, event: PointerEvent<Surface>): void;
  /** Escape while it is held, or the pointer is lost. @param moved it had been moved already */
  takeBack(grip: Grip, moved: boolean): void;
  /** The pointer moves and holds nothing. */
  hover?(event: PointerEvent<Surface>): void;
}

interface Held<Grip> {
  readonly grip: Grip;
  readonly x: number;
  readonly y: number;
  moved: boolean;
}

/** What an element that is dragged takes. */
export type DragHandlers<Surface extends Element> = ReturnType<typeof usePointerDrag<unknown, Surface>>;

/** A drag with the main button: it begins after a few pixels, and Escape takes it back, and nothing else that listens to Escape. */
export function usePointerDrag<Grip, Surface extends Element>(drag: PointerDrag<Grip, Surface>) {
  const held = useRef<Held<Grip> | null>(null);
  const takeBack = useRef(drag.takeBack.bind(drag));
  useEffect(() => {
    takeBack.current = drag.takeBack.bind(drag);
  });
  const release = (): Held<Grip> | null => {
    const last = held.current;
    held.current = null;
    return last;
  };
  useEffect(() => {
    const escape = (event: KeyboardEvent): void => {
      if (event.key !== 'Escape' || !held.current) return;
      event.stopPropagation();
      const { grip, moved } = held.current;
      held.current = null;
      takeBack.current(grip, moved);
    };
    window.addEventListener('keydown', escape, { capture: true });
    return () => window.removeEventListener('keydown', escape, { capture: true });
  }, []);
  return {
    onPointerDown: (event: PointerEvent<Surface>): void => {
      if (event.button !== 0) return;
      const grip = drag.grab(event);
      if (grip === null) return;
      event.currentTarget.setPointerCapture(event.pointerId);
      held.current = { grip, x: event.clientX, y: event.clientY, moved: false };
    },
    onPointerMove: (event: PointerEvent<Surface>): void => {
      const now = held.current;
      if (!now) {
        drag.hover?.(event);
        return;
      }
      const by = { x: event.clientX - now.x, y: event.clientY - now.y };
      if (!now.moved && Math.hypot(by.x, by.y) < DRAG_AFTER_PX) return;
      now.moved = true;
      drag.move(now.grip, by, event);
    },
    onPointerUp: (event: PointerEvent<Surface>): void => {
      const last = release();
      if (last?.moved) drag.drop(last.grip, event);
      else if (last) drag.press?.(last.grip, event);
    },
    onPointerCancel: (): void => {
      const last = release();
      if (last) drag.takeBack(last.grip, last.moved);
    },
  };
}
