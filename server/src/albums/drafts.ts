import { mayDo } from '@oiseau/api';
import { withoutDrafts, type Album } from '@oiseau/album/model';
import type { Visitor } from '../access/visitor.js';

/** Whether a caller sees draft editions: those who work on albums do, guests don’t. */
export const seesDrafts = ({ role }: Pick<Visitor, 'role'>): boolean => mayDo(role, 'work');

/** An album as a caller may see it. */
export const albumFor = (caller: Pick<Visitor, 'role'>, album: Album): Album =>
  seesDrafts(caller) ? album : withoutDrafts(album);
