export {
  type EncodersRoom,
  type Overshoot,
  type RoomFigures,
  encodersRoomSchema,
  lowerCeiling,
} from './encoders-room.js';
export {
  type LineUpFigures,
  type LineUpQuestion,
  type LineUpsByName,
  lineUpQuestionSchema,
  lineUpsOf,
  nameOfLineUp,
  shiftOf,
} from './line-up.js';
export {
  type HeardFigures,
  type MeasuredSound,
  type SoundFigures,
  type SoundFiguresByName,
  type ReductionFigures,
  heardFigures,
  measuredSoundSchema,
  nameOfSound,
  partSound,
  songSound,
  soundOfSequence,
  soundsOf,
} from './measured-sound.js';
export {
  type SideFigures,
  type SideMoment,
  type SideQuestion,
  type SidesByName,
  nameOfSide,
  sideQuestion,
  sideQuestionSchema,
} from './side-sound.js';
export { type SoundOutline, outlineBytes, readOutline } from './sound-outline.js';
