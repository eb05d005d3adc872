import { open, rename } from 'node:fs/promises';

/** Replaces a small file so that after a kill or a power cut it is the old one or the new one, whole. @param mode of a new file */
export async function writeDurably(path: string, text: string, mode = 0o600): Promise<void> {
  const fresh = `${path}.${process.pid}.${Math.random().toString(36).slice(2)}.new`;
  const file = await open(fresh, 'wx', mode);
  try {
    await file.writeFile(text);
    await file.sync();
  } finally {
    await file.close();
  }
  await rename(fresh, path);
}
