import { msg } from '@oiseau/messages';
import { realpath, stat } from 'node:fs/promises';
import { dirname, sep } from 'node:path';
import { Failure } from '@oiseau/audio/errors';

/** A file that an album file names and that may not be opened. */
export class FileOutside extends Failure {
  override readonly name = 'FileOutside';
  readonly code = 'file-outside';
  readonly status = 422;
}

/**
 * Makes sure that a path leads to a file that holds still: no device and no pipe, which would never end.
 * @param within the folder that it must lie in, links followed; null: anywhere
 * @throws FileOutside, or a system error where there is none
 */
export async function demandFile(path: string, within: string | null): Promise<void> {
  const real = await realpath(path);
  if (within !== null) {
    const folder = await realpath(within);
    const prefix = folder.endsWith(sep) ? folder : folder + sep;
    if (!real.startsWith(prefix))
      throw new FileOutside(
        msg('it is outside the album’s folder ({folder}); use --outside to allow that.', {
          folder: dirname(real),
        }),
      );
  }
  if (!(await stat(real)).isFile())
    throw new FileOutside(msg('it is not a file but a folder, a pipe or a device.'));
}
