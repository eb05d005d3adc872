import { msg } from '@oiseau/messages';
import { SHOP_COVER_PIXELS } from '@oiseau/formats/papers';
import { pictureSize } from '@oiseau/codings';
import type { PlannedCover } from '../planned.js';
import type { FileKind } from './file-kind.js';
import { equal } from './tests.js';

/** The cover as shops take it: square, RGB. */
export const coverFile: FileKind<PlannedCover> = {
  words: () => msg('the cover, {pixels} × {pixels} pixels', { pixels: SHOP_COVER_PIXELS }),
  bytes: async ({ form, path }, { input }) => {
    if (!input.picture) throw new RangeError(`There is no cover for ${path}.`);
    return input.picture(form, SHOP_COVER_PIXELS);
  },
  prove: async ({ form }, source) => {
    const found = pictureSize(await source.read(0, source.size));
    const words = found && `${found.form} ${found.width} × ${found.height}, ${found.channels} colours`;
    return [equal('cover', words, `${form} ${SHOP_COVER_PIXELS} × ${SHOP_COVER_PIXELS}, 3 colours`)];
  },
};
