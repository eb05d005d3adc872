import { ticks, type Frames, type Ticks } from './ticks.js';

/** CD frames (sectors) in a second [IEC 60908]. */
export const FRAMES_PER_SECOND = 75;
export const TICKS_PER_FRAME = 9_408_000;
/** Stereo samples of 44.1 kHz in one frame. */
export const SAMPLES_PER_FRAME = 588;
/** Bytes of audio in one frame: 588 stereo samples of 16 bit. */
export const SECTOR_BYTES = 2352;
/** The two seconds of pause that stand before index 01 of track 1 [IEC 60908]. */
export const FIRST_PAUSE_FRAMES = 150 as Frames;

export const frames = (value: number): Frames => value as Frames;

/** The last frame that starts at or before a time. */
export function floorToFrame(value: Ticks): Frames {
  return frames(Math.floor(value / TICKS_PER_FRAME));
}

/** The first frame that starts at or after a time. */
export function ceilToFrame(value: Ticks): Frames {
  return frames(Math.ceil(value / TICKS_PER_FRAME));
}

export function framesToTicks(value: Frames): Ticks {
  return ticks(value * TICKS_PER_FRAME);
}

/** `MM:SS:FF`, minutes with at least two digits; a time before absolute zero, which only an album that breaks the rules has, with a minus sign. */
export function formatMsf(value: Frames): string {
  if (value < 0) return `−${formatMsf(frames(-value))}`;
  const two = (part: number): string => String(part).padStart(2, '0');
  const seconds = Math.floor(value / FRAMES_PER_SECOND);
  return `${two(Math.floor(seconds / 60))}:${two(seconds % 60)}:${two(value % FRAMES_PER_SECOND)}`;
}

/** Reads `MM:SS:FF` (seconds 00–59, frames 00–74); undefined when the text is not of that form. */
export function parseMsf(text: string): Frames | undefined {
  const found = /^(\d{1,3}):([0-5]\d):([0-6]\d|7[0-4])$/.exec(text.trim());
  if (!found) return undefined;
  return frames((Number(found[1]) * 60 + Number(found[2])) * FRAMES_PER_SECOND + Number(found[3]));
}
