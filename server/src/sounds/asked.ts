import { createHash } from 'node:crypto';
import * as z from 'zod';
import { lineUpFigures, roomFigures, sideFigures, soundFigures } from '@oiseau/api';
import {
  encodersRoomSchema,
  lineUpQuestionSchema,
  measuredSoundSchema,
  nameOfLineUp,
  nameOfSide,
  nameOfSound,
  sideQuestionSchema,
  type EncodersRoom,
  type LineUpFigures,
  type LineUpQuestion,
  type MeasuredSound,
  type RoomFigures,
  type SideFigures,
  type SoundFigures,
  type SideQuestion,
} from '@oiseau/album/measured';

/** What may be asked: how a sound measures, what room encoders need, how a recording lies to its master, what a lathe minds of a side. */
export const askedSchema = z.union([
  measuredSoundSchema,
  encodersRoomSchema,
  lineUpQuestionSchema,
  sideQuestionSchema,
]);
export type Asked = MeasuredSound | EncodersRoom | LineUpQuestion | SideQuestion;

export const answerSchema = z.union([soundFigures, roomFigures, lineUpFigures, sideFigures]);
export type Answer = SoundFigures | RoomFigures | LineUpFigures | SideFigures;

function nameOf(asked: Asked): string {
  switch (asked.kind) {
    case 'room':
      return JSON.stringify(asked);
    case 'line-up':
      return `${asked.kind} ${nameOfLineUp(asked)}`;
    case 'side':
      return `${asked.kind} ${nameOfSide(asked)}`;
    case 'song':
    case 'part':
      return nameOfSound(asked);
    default:
      return asked satisfies never;
  }
}

/** The key of a question: the SHA-256 of what tells it from all others. */
export const keyOfSound = (asked: Asked): string => createHash('sha256').update(nameOf(asked)).digest('hex');

/** SHA-256 of the masters that are heard to answer it. */
export function mastersOf(asked: Asked): string[] {
  switch (asked.kind) {
    case 'song':
      return [asked.master];
    case 'line-up':
      return [asked.master, asked.other];
    case 'room':
      return asked.part.songs.map(({ region }) => region.master);
    case 'part':
    case 'side':
      return asked.songs.map(({ region }) => region.master);
    default:
      return asked satisfies never;
  }
}
