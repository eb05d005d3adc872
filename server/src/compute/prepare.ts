import { albumDocument, parseAlbumFile, AlbumFileError, mastersInFile, sumsInFile } from '@oiseau/album/file';
import { mastersPlayed, type Album } from '@oiseau/album/model';
import type { EncodersRoom, LineUpQuestion, MeasuredSound, SideQuestion } from '@oiseau/album/measured';
import type {
  PreparedAlbum,
  PreparedDocument,
  PreparedFile,
  PreparedQuestion,
} from '../http/compute-pool.js';
import { keyOfSound, mastersOf, type Asked } from '../sounds/asked.js';

/** @param album validated a moment ago: what is written can be read again */
export const preparedDocument = (album: Album): PreparedDocument => ({
  text: JSON.stringify(albumDocument(album)),
  artwork: album.artwork,
  masters: mastersPlayed(album),
});

const album = ({ version, album: given }: { version: number; album: Album }): PreparedAlbum => ({
  version,
  ...preparedDocument(given),
});

const question = (asked: Asked): PreparedQuestion => ({
  key: keyOfSound(asked),
  masters: mastersOf(asked),
  text: JSON.stringify(asked),
});

function file({ file: text, masters }: { file: string; masters: Record<string, string> }): PreparedFile {
  try {
    const parsed = parseAlbumFile(text);
    return { text, masters, names: mastersInFile(parsed), sums: sumsInFile(parsed), problems: [] };
  } catch (error) {
    if (!(error instanceof AlbumFileError)) throw error;
    return { text: '', masters, names: [], sums: new Map(), problems: error.problems };
  }
}

/** What calls need of their bodies, by call: computed in the thread that reads the body, so that only strings come back from it. */
export const PREPARE: Readonly<Record<string, (body: never) => unknown>> = {
  'PUT /albums/:id': album,
  'POST /album-files': file,
  'POST /album-files/masters': file,
  'POST /albums/:id/sounds': ({ sounds }: { sounds: readonly MeasuredSound[] }) => sounds.map(question),
  'POST /albums/:id/room': (room: EncodersRoom) => [question(room)],
  'POST /albums/:id/line-ups': ({ questions }: { questions: readonly LineUpQuestion[] }) =>
    questions.map(question),
  'POST /albums/:id/sides': ({ questions }: { questions: readonly SideQuestion[] }) =>
    questions.map(question),
};
