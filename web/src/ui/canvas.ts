import { useEffect, useRef, type RefObject } from 'react';

/** The colours of the surface in use, for drawing on a canvas. */
export interface Palette {
  readonly ink: string;
  readonly soft: string;
  readonly rule: string;
  readonly accent: string;
  readonly muted: string;
  readonly paper: string;
  readonly danger: string;
  readonly doubt: string;
}

export function readPalette(element: Element): Palette {
  const style = getComputedStyle(element);
  const of = (name: string): string => style.getPropertyValue(name).trim();
  return {
    ink: of('--oi-ink'),
    soft: of('--oi-soft'),
    rule: of('--oi-rule'),
    accent: of('--oi-accent'),
    muted: of('--oi-muted'),
    paper: of('--oi-surface'),
    danger: of('--oi-danger'),
    doubt: of('--oi-doubt'),
  };
}

export type Draw = (
  context: CanvasRenderingContext2D,
  width: number,
  height: number,
  palette: Palette,
) => void;

/** Draws on a canvas that fills its box: again when `draw` changes, the box is resized or the surface is switched. */
export function useCanvas(draw: Draw): RefObject<HTMLCanvasElement | null> {
  const ref = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const canvas = ref.current;
    if (!canvas) return undefined;
    const paint = (): void => {
      const { clientWidth: width, clientHeight: height } = canvas;
      const ratio = window.devicePixelRatio;
      canvas.width = Math.round(width * ratio);
      canvas.height = Math.round(height * ratio);
      const context = canvas.getContext('2d');
      if (!context) return;
      context.scale(ratio, ratio);
      draw(context, width, height, readPalette(canvas));
    };
    paint();
    const observer = new ResizeObserver(paint);
    observer.observe(canvas);
    window.addEventListener('oiseau-theme', paint);
    return () => {
      observer.disconnect();
      window.removeEventListener('oiseau-theme', paint);
    };
  }, [draw]);
  return ref;
}
