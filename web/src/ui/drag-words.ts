import type { Announcements, ScreenReaderInstructions } from '@dnd-kit/core';
import { t } from './messages.js';

const screenReaderInstructions: ScreenReaderInstructions = {
  draggable: t(
    'Press Space to pick it up, the arrow keys to move it, and Space again to drop it. Escape cancels.',
  ),
};
const announcements: Announcements = {
  onDragStart: () => t('Picked up.'),
  onDragOver: ({ over }) =>
    over ? t('Over a place where it can be dropped.') : t('Not over a place where it can be dropped.'),
  onDragEnd: ({ over }) => (over ? t('Dropped.') : t('Back in its place.')),
  onDragCancel: () => t('Cancelled. Back in its place.'),
};

/** What a screen reader says of dragging, in the reader’s language. */
export const DRAG_WORDS = { screenReaderInstructions, announcements };
