import { execFile } from 'node:child_process';
import { promisify } from 'node:util';
import { VERSION, type Made } from '@oiseau/render';
import { fenced } from './fenced.js';

let known: Promise<Made> | undefined;

/** The versions of Oiseau and of the FFmpeg of this machine, as it names itself. */
export function versionsHere(): Promise<Made> {
  known ??= ffmpegVersion().then((ffmpeg) => ({ oiseau: VERSION, ffmpeg }));
  return known;
}

async function ffmpegVersion(): Promise<string | null> {
  try {
    const { file, args, env } = fenced('ffmpeg', ['-version']);
    const { stdout } = await promisify(execFile)(file, args, { env });
    return /^ffmpeg version (\S+)/.exec(stdout)?.[1] ?? null;
  } catch {
    known = undefined;
    return null;
  }
}
