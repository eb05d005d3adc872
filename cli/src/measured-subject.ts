import {
  lineUpsOf,
  nameOfLineUp,
  nameOfSide,
  nameOfSound,
  sideQuestion,
  soundsOf,
  type LineUpFigures,
  type SideFigures,
  type SoundFigures,
} from '@oiseau/album/measured';
import { MasterMeters, measureLineUp, readThrough } from '@oiseau/audio/measure';
import { measureSide, measureSound } from '@oiseau/render';
import type { CheckSubject } from '@oiseau/checks';
import type { PcmFileSource } from '@oiseau/audio/pcm';
import type { AlbumOnDisk } from './album-on-disk.js';

/** The rules’ view of an album with everything measured that they may look at: masters, treated sounds, recordings against their masters, sides. */
export async function measuredSubject(
  { album, parts, masters, codings }: AlbumOnDisk,
  subject: CheckSubject,
  report: (line: string) => void,
): Promise<CheckSubject> {
  const details = new Map<string, NonNullable<ReturnType<NonNullable<CheckSubject['details']>['get']>>>();
  for (const [name, source] of masters) {
    report(`${name}: measure`);
    const measurement = await measured(source);
    details.set(name, { info: source.info, coding: codings.get(name) ?? null, measurement });
  }
  const sounds = new Map<string, SoundFigures>();
  for (const sound of soundsOf(parts)) {
    report(`${sound.kind === 'song' ? sound.master : 'a part'}: measure treated`);
    sounds.set(nameOfSound(sound), (await measureSound(sound, masters)).figures);
  }
  const lineUps = new Map<string, LineUpFigures>();
  for (const question of lineUpsOf(album)) {
    const [master, other] = [masters.get(question.master), masters.get(question.other)];
    report(`${question.other}: align with ${question.master}`);
    if (master && other) lineUps.set(nameOfLineUp(question), { found: await measureLineUp(master, other) });
  }
  const sides = new Map<string, SideFigures>();
  for (const part of parts) {
    const question = sideQuestion(part);
    if (!question) continue;
    report(`side ${part.label}: measure`);
    sides.set(nameOfSide(question), await measureSide(question, masters));
  }
  return { ...subject, details, sounds, lineUps, sides };
}

async function measured(source: PcmFileSource) {
  const meters = new MasterMeters(source.rate, source.format, source.length);
  await readThrough(source, (block) => meters.push(block));
  return meters.result().measurement;
}
