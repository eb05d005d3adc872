import * as z from '@oiseau/audio/z';
import { albumFileSchema } from './file.js';

/** The album file as JSON Schema (draft 2020-12), for docs/album-file.schema.json. */
export function albumFileJsonSchema(): object {
  return { title: 'Oiseau album file, version 1', ...z.toJSONSchema(albumFileSchema, { io: 'input' }) };
}
