import { figure, msg } from '@oiseau/messages';
import { isInteger, type PcmSource } from './block.js';
import { AudioRefused } from './refusal.js';

const BLOCK = 65_536;

/**
 * Reads float words through once: a value that is no number, or infinite, would spread through every filter that it meets.
 * Whole numbers can't hold such a value and are not read.
 * @throws AudioRefused naming the first such place
 */
export async function demandFinite(source: PcmSource): Promise<void> {
  if (isInteger(source.format)) return;
  for (let start = 0; start < source.length; start += BLOCK) {
    const { left, right } = await source.read(start, Math.min(BLOCK, source.length - start));
    // Zero times a value is zero unless the value is no number or infinite, and no sum with that is a number again.
    let sum = 0;
    for (let i = 0; i < left.length; i++) sum += (left[i] as number) * 0 + (right[i] as number) * 0;
    if (sum === 0) continue;
    const at = start + left.findIndex((value, i) => !Number.isFinite(value) || !Number.isFinite(right[i]));
    throw new AudioRefused(
      'damaged-audio',
      msg('The file is damaged: the sample at {value} s isn’t a number.', {
        value: figure((at / source.rate).toFixed(3)),
      }),
    );
  }
}
