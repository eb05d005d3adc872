import { seedFromText, uniform } from '@oiseau/audio/dsp';
import { canvas, toPeak, voice, type Canvas } from './instruments.js';
import { AEOLIAN, base, DORIAN, LYDIAN, perform, type Piece, type Score } from './pieces.js';

/** A song of the record with two sides: sung, and where there is one its instrumental, which lines up with it. */
export interface SungPiece extends Piece {
  readonly instrumental: Pick<Piece, 'file' | 'make'> | null;
}

type Song = Omit<Score, keyof typeof base | 'name'> & Partial<Score>;

/** Steps of the mode that a phrase sings, a note for each beat but the last. */
const PHRASES = [
  [7, 9, 8],
  [11, 9, 7],
  [9, 10, 8],
  [7, 6, 4],
];

/** Sings every other bar, softly where the strings are. */
function sing(score: Score, out: Canvas): void {
  const beat = 60 / score.beatsPerMinute;
  const seed = seedFromText(`${score.name} voice`);
  for (let bar = 1; bar < score.bars - 1; bar++) {
    const phrase = PHRASES[Math.floor(4 * uniform(seed, bar))] ?? [];
    if (bar % 4 === 3) continue;
    phrase.forEach((degree, i) => {
      const { mode } = score;
      const semitone = mode[degree % mode.length] ?? 0;
      const hz = score.rootHz * 2 ** (Math.floor(degree / mode.length) + semitone / 12);
      const at = score.lead + (4 * bar + i) * beat;
      const hold = (i === phrase.length - 1 ? 1.8 : 0.95) * beat;
      voice(out, { at, hz, level: 0.5, pan: 0, hold }, bar + i);
    });
  }
}

/** What a studio's other session gave: the same, some samples late. */
function late(whole: Canvas, samples: number): Canvas {
  const out = canvas(whole.rate, whole.left.length / whole.rate);
  out.left.set(whole.left.subarray(0, whole.left.length - samples), samples);
  out.right.set(whole.right.subarray(0, whole.right.length - samples), samples);
  return out;
}

function song(title: string, own: Song, instrumental: 'none' | 'in time' | 'late'): SungPiece {
  const score: Score = { ...base, tail: 4, ...own, name: title };
  const file = title.toLowerCase().replace(/[^a-z]+/g, '_');
  let sung: Canvas | undefined;
  const full = (): Canvas => (sung ??= perform(score, (out) => sing(score, out)));
  return {
    ...{ file: `${file}.wav`, title, rate: score.rate, format: 'int24', gapSeconds: 2 },
    make: () => {
      const out = { ...full(), left: full().left.slice(), right: full().right.slice() };
      toPeak(out, score.peakDb);
      return out;
    },
    instrumental:
      instrumental === 'none'
        ? null
        : {
            file: `${file} (instrumental).wav`,
            make: () => {
              const out = perform(score);
              toPeak(out, score.peakDb, full());
              return instrumental === 'late' ? late(out, 441) : out;
            },
          },
  };
}

/** Six songs for the two sides of a seven-inch record, three of them with their instrumentals; one of those is ten milliseconds late. */
export function twoSides(): SungPiece[] {
  const chords = { chords: [0, 3, 5, 4] };
  return [
    song(
      'Stair of Salt',
      { ...chords, beatsPerMinute: 100, bars: 11, rootHz: 123.5, mode: DORIAN },
      'in time',
    ),
    song(
      'Low Lamps',
      { ...chords, beatsPerMinute: 76, bars: 8, rootHz: 110, mode: LYDIAN, harmonium: 0.4 },
      'none',
    ),
    song(
      'Marram',
      { ...chords, beatsPerMinute: 112, bars: 13, rootHz: 98, mode: AEOLIAN, strings: 0.9 },
      'late',
    ),
    song(
      'What the Groyne Said',
      { ...chords, beatsPerMinute: 92, bars: 10, rootHz: 130.8, mode: DORIAN },
      'in time',
    ),
    song(
      'Ledger of Gulls',
      { ...chords, beatsPerMinute: 84, bars: 8, rootHz: 87.3, mode: LYDIAN, glasses: 0.9 },
      'none',
    ),
    song(
      'Last Boat',
      { ...chords, beatsPerMinute: 64, bars: 7, rootHz: 92.5, mode: AEOLIAN, harmonium: 0.6 },
      'none',
    ),
  ];
}
