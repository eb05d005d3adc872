import { suggestSpacing } from '@oiseau/album/edits';
import { layOutAlbum } from '@oiseau/album/layout';
import { newAlbum, newSong } from '@oiseau/album/model';
import { SilhouetteMeter } from '@oiseau/audio/measure';
import { secondsToTicks, ticksToSeconds } from '@oiseau/audio/time';
import { expect, it } from 'vitest';
import { nineTides } from './pieces.js';

it('the gaps proposed for the demo album lie near those that were set by hand', () => {
  const pieces = nineTides().map((piece, i) => {
    const audio = piece.make();
    const meter = new SilhouetteMeter(piece.rate, audio.left.length);
    meter.push(audio);
    return {
      song: newSong(`t${i + 1}`, `m${i + 1}`, piece.title, secondsToTicks(piece.gapSeconds)),
      outline: meter.result(),
      facts: { rate: piece.rate, length: audio.left.length },
    };
  });
  const [part] = layOutAlbum(
    { ...newAlbum('Nine Tides'), songs: pieces.map(({ song }) => song) },
    new Map(pieces.map(({ song, facts }) => [song.region.master, facts])),
  );
  const outlines = new Map(pieces.map(({ song, outline }) => [song.region.master, outline]));
  const apart = pieces.slice(1).map(({ song: { id, region } }) => {
    const [suggestion] = suggestSpacing([part], new Set([id]), outlines);
    return suggestion ? Math.abs(ticksToSeconds(suggestion.gap) - ticksToSeconds(region.gapBefore)) : NaN;
  });
  expect(apart).toHaveLength(8);
  for (const seconds of apart) expect(seconds).toBeLessThan(2);
  expect(apart.filter((seconds) => seconds < 0.6)).toHaveLength(5);
  // The two that run into each other still do.
  expect(apart[5]).toBe(0);
});
