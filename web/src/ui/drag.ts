/** A press becomes a drag only after so many pixels, so that nothing moves by a stray click. */
export const DRAG_AFTER_PX = 4;
