import { createRequire } from 'node:module';
import type * as Fontkit from 'fontkit';
import type { Font } from 'fontkit';

const require = createRequire(import.meta.url);

/** A type in the two weights of a sheet. */
interface Face {
  readonly regular: string;
  readonly strong: string;
}

/**
 * The product's own type first; where it lacks a character of a text, the one for Japanese, which was drawn to go with it and has Latin, Greek
 * and Cyrillic as well; then one with most of what else is written.
 */
const FACES: readonly Face[] = [
  {
    regular: require.resolve('@expo-google-fonts/source-sans-3/400Regular/SourceSans3_400Regular.ttf'),
    strong: require.resolve('@expo-google-fonts/source-sans-3/600SemiBold/SourceSans3_600SemiBold.ttf'),
  },
  {
    regular: require.resolve('@expo-google-fonts/noto-sans-jp/400Regular/NotoSansJP_400Regular.ttf'),
    strong: require.resolve('@expo-google-fonts/noto-sans-jp/600SemiBold/NotoSansJP_600SemiBold.ttf'),
  },
  {
    regular: require.resolve('dejavu-fonts-ttf/ttf/DejaVuSansCondensed.ttf'),
    strong: require.resolve('dejavu-fonts-ttf/ttf/DejaVuSansCondensed-Bold.ttf'),
  },
];

const opened = new Map<string, Font>();

/** Opened once: reading one takes longer than a page. So does loading what reads them, which few runs of a program need. */
function fontAt(path: string): Font {
  const { openSync } = require('fontkit') as typeof Fontkit;
  const known = opened.get(path) ?? (openSync(path) as Font);
  opened.set(path, known);
  return known;
}

/** Characters of a text that a font can't draw. */
function lacking(path: string, text: string): number {
  const font = fontAt(path);
  return [...new Set(text)].filter(
    (char) => !/\s/.test(char) && !font.hasGlyphForCodePoint(char.codePointAt(0) ?? 0),
  ).length;
}

/** The path of the font in which a text is set: the first that has all of its characters, or else most of them. */
export function fontFor(text: string, weight: keyof Face = 'regular'): string {
  let best = { path: FACES[0]?.[weight] ?? '', missing: Infinity };
  for (const face of FACES) {
    const path = face[weight];
    const missing = lacking(path, text);
    if (missing < best.missing) best = { path, missing };
    if (missing === 0) break;
  }
  return best.path;
}
