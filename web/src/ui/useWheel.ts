import { useEffect, useRef, type RefObject } from 'react';

/**
 * The wheel over a picture works on the picture instead of scrolling the view. React's own listener could not prevent the
 * scrolling.
 */
export function useWheel(
  element: RefObject<HTMLElement | null>,
  turn: (event: WheelEvent, width: number) => void,
): void {
  const latest = useRef(turn);
  useEffect(() => {
    latest.current = turn;
  });
  useEffect(() => {
    const { current } = element;
    const listen = (event: WheelEvent): void => {
      event.preventDefault();
      if (current) latest.current(event, current.clientWidth);
    };
    current?.addEventListener('wheel', listen, { passive: false });
    return () => current?.removeEventListener('wheel', listen);
  }, [element]);
}
