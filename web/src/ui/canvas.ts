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
      draw(context, width, height, readPalette());
    };
    paint();
    // An observer reports once at the start as well: only another size is news.
    let size = `${canvas.clientWidth}×${canvas.clientHeight}`;
    const observer = new ResizeObserver(() => {
      const now = `${canvas.clientWidth}×${canvas.clientHeight}`;
      if (now !== size) paint();
      size = now;
    });
    observer.observe(canvas);
    window.addEventListener('oiseau-theme', paint);
    return () => {
      observer.disconnect();
      window.removeEventListener('oiseau-theme', paint);
    };
  }, [draw]);
  return ref;
}
