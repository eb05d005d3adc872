import type { Db } from '../db/database.js';
import { notFound } from '../http/api-error.js';
import { findAlbum } from './album-repository.js';

/** Refuses to add to an album that was deleted. @throws ApiError 404 */
export async function demandOnShelf(db: Db, id: string): Promise<void> {
  if (!(await findAlbum(db, id))) throw notFound('album');
}
