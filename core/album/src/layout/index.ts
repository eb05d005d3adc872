export { type DiscMarks } from './disc-marks.js';
export { type DiscPart, type Part, isDisc, layOutAlbum, layOutDeliverable, layOutPart } from './part.js';
export { type Placement, place, songAt } from './placement.js';
export { transitionSpan } from './transition.js';
