import { albumToFile, type AlbumFile } from '@oiseau/album/file';
import { compareNames } from '@oiseau/album/edits';
import { isMasterName } from '@oiseau/audio/pcm';
import { mastersPlayed, safeFileName, uniqueNames } from '@oiseau/album/model';
import type { Db } from '../db/database.js';
import { notFound } from '../http/api-error.js';
import { mastersOfAlbum } from '../masters/master-repository.js';
import { findPicture } from '../media/picture-repository.js';
import { findAlbum } from './album-repository.js';
import { dayOfState } from './revision-repository.js';

/** An album as it leaves. */
export interface AlbumExport {
  readonly title: string;
  readonly file: AlbumFile;
  /** What lies beside the album file: its name there and its content. */
  readonly beside: readonly { readonly name: string; readonly sha256: string; readonly bytes: number }[];
}

/** An album as an open file (docs/album-file.md 2), with what lies beside it. @throws ApiError 404 */
export async function exportAlbum(db: Db, id: string): Promise<AlbumExport> {
  const record = await findAlbum(db, id);
  if (!record) throw notFound('album');
  const masters = (await mastersOfAlbum(db, id)).sort((a, b) => compareNames(a.name, b.name));
  const names = uniqueNames(masters.map(({ name }) => safeFileName(name.replace(/\.[a-z0-9]+$/i, ''))));
  const fileNames = new Map(
    masters.map(({ sha256: content, name }, i) => {
      const ending = isMasterName(name) ? name.slice(name.lastIndexOf('.')).toLowerCase() : '.wav';
      return [content, `${names[i] ?? content}${ending}`];
    }),
  );
  const { artwork } = record.album;
  const picture = artwork ? await findPicture(db, artwork) : undefined;
  const artworkName = picture ? `cover.${picture.mediaType === 'image/png' ? 'png' : 'jpg'}` : null;
  const used = new Set(mastersPlayed(record.album));
  const beside = masters
    .filter(({ sha256 }) => used.has(sha256))
    .map(({ sha256, bytes }) => ({ name: fileNames.get(sha256) ?? sha256, sha256, bytes }));
  return {
    title: safeFileName(record.album.title || 'Untitled album'),
    file: albumToFile(
      record.album,
      (content) => fileNames.get(content) ?? content,
      artworkName,
      await dayOfState(db, id, record.album),
    ),
    beside: picture && artworkName ? [...beside, { ...picture, name: artworkName }] : beside,
  };
}
