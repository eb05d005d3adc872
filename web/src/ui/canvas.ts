import { useCallback, useEffect, useRef, type RefObject } from 'react';

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

const palettes = new Map<string, Palette>();

/** The palette of the surface in use; asked of the style sheet once for each, since every question makes the browser work. */
function readPalette(): Palette {
  const root = document.documentElement;
  const theme = root.dataset.bsTheme ?? '';
  const known = palettes.get(theme);
  if (known) return known;
  const style = getComputedStyle(root);
  const of = (name: string): string => style.getPropertyValue(`--oi-${name}`).trim();
  const palette = {
    ink: of('ink'),
    soft: of('soft'),
    rule: of('rule'),
    accent: of('accent'),
    muted: of('muted'),
    paper: of('surface'),
    danger: of('danger'),
    doubt: of('doubt'),
  };
  palettes.set(theme, palette);
  return palette;
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
  // The size is what the observer told, never asked for while drawing: the question would lay out the whole page at once.
  const size = useRef({ width: 0, height: 0 });
  const latest = useRef(draw);
  const paint = useCallback((): void => {
    const { width, height } = size.current;
    const context = ref.current?.getContext('2d');
    if (!context || width === 0) return;
    const ratio = window.devicePixelRatio;
    context.canvas.width = Math.round(width * ratio);
    context.canvas.height = Math.round(height * ratio);
    context.scale(ratio, ratio);
    latest.current(context, width, height, readPalette());
  }, []);
  useEffect(() => {
    latest.current = draw;
    paint();
  }, [draw, paint]);
  useEffect(() => {
    const canvas = ref.current;
    if (!canvas) return undefined;
    const observer = new ResizeObserver(([entry]) => {
      if (!entry) return;
      size.current = {
        width: Math.round(entry.contentRect.width),
        height: Math.round(entry.contentRect.height),
      };
      paint();
    });
    observer.observe(canvas);
    window.addEventListener('oiseau-theme', paint);
    return () => {
      observer.disconnect();
      window.removeEventListener('oiseau-theme', paint);
    };
  }, [paint]);
  return ref;
}
