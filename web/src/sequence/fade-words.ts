import type { FadeShape } from '@oiseau/audio/dsp';
import { t } from '../ui/messages.js';

const SHAPES: Readonly<Record<FadeShape, string>> = {
  linear: t('linear'),
  'equal-power': t('equal power'),
  cosine: t('cosine'),
  slow: t('slow start'),
  fast: t('fast start'),
};

/** `equal power` */
export const shapeWords = (shape: FadeShape): string => SHAPES[shape];
