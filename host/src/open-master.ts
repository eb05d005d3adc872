import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { PcmFileSource } from '@oiseau/audio/pcm';
import { FileByteSource } from './file-source.js';
import { prepareMaster, type PreparedMaster } from './master-intake.js';

/** A master open for reading; `close` it, and what was decoded of it goes. */
export interface OpenMaster {
  readonly source: PcmFileSource;
  /** How it was coded; null: plain words. */
  readonly coding: PreparedMaster['coding'];
  close(): Promise<void>;
}

/** Opens any file that can be a master; a mono one sounds in both channels. @throws AudioRefused, or a system error */
export async function openMaster(path: string): Promise<OpenMaster> {
  const folder = await mkdtemp(join(tmpdir(), 'oiseau-decoded-'));
  const clear = (): Promise<void> => rm(folder, { recursive: true, force: true });
  try {
    const { info, decoded, coding } = await prepareMaster(path, true, join(folder, 'audio.wav'));
    const bytes = await FileByteSource.open(decoded ?? path);
    return {
      source: new PcmFileSource(info, bytes),
      coding,
      close: async () => {
        await bytes.close();
        await clear();
      },
    };
  } catch (error) {
    await clear();
    throw error;
  }
}
