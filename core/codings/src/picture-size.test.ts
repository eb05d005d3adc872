import { describe, expect, it } from 'vitest';
import { pictureSize } from './picture-size.js';

describe('the size of a picture', () => {
  it('stands in the first chunk of a PNG', () => {
    const head = [0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a, 0, 0, 0, 13, 0x49, 0x48, 0x44, 0x52];
    const png = Uint8Array.from([...head, 0, 0, 0x0b, 0xb8, 0, 0, 0x01, 0x00, 8, 2, 0, 0, 0]);
    expect(pictureSize(png)).toEqual({ form: 'png', width: 3000, height: 256, channels: 3 });
  });

  it('stands in the frame header of a JPEG, behind segments of any length', () => {
    const app = [0xff, 0xe0, 0, 6, 1, 2, 3, 4];
    const frame = [0xff, 0xc0, 0, 17, 8, 0x01, 0x00, 0x0b, 0xb8, 3, 1, 0x22, 0];
    expect(pictureSize(Uint8Array.from([0xff, 0xd8, ...app, ...frame]))).toEqual({
      ...{ form: 'jpeg', width: 3000, height: 256, channels: 3 },
    });
  });

  it.each([[[]], [[0xff, 0xd8]], [[0x89, 0x50, 0x4e, 0x47]], [[0x47, 0x49, 0x46, 0x38]]])(
    'is none of %o',
    (bytes) => expect(pictureSize(Uint8Array.from(bytes))).toBeNull(),
  );
});
