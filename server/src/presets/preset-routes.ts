import { Router } from 'express';
import { z } from 'zod';
import {
  deliverableDocument,
  deliverableSchema,
  readDeliverableDocument,
  type Deliverable,
} from '@oiseau/core';
import type { Database, Parse } from '../db/database.js';

/** A form of deliverable kept for every album. */
interface Preset {
  readonly name: string;
  readonly deliverable: Deliverable;
}

const parse: Parse<Preset> = (row) => ({
  name: String(row.name),
  deliverable: readDeliverableDocument(JSON.parse(String(row.deliverable))),
});

const presetName = z.string().trim().min(1).max(100);

/** Presets of people; those that ship are the interface's. */
export function presetRoutes(db: Database): Router {
  const router = Router();

  router.get('/presets', async (_request, response) => {
    response.json(await db.many(parse, 'SELECT name, deliverable FROM presets ORDER BY name', []));
  });

  router.put('/presets/:name', async (request, response) => {
    const name = presetName.parse(request.params.name);
    const deliverable = deliverableSchema.parse(request.body);
    await db.execute(
      `INSERT INTO presets (name, deliverable, created_at) VALUES (?, ?, UTC_TIMESTAMP(3))
       ON DUPLICATE KEY UPDATE deliverable = VALUES(deliverable)`,
      [name, JSON.stringify(deliverableDocument(deliverable))],
    );
    response.json({ name, deliverable });
  });

  router.delete('/presets/:name', async (request, response) => {
    await db.execute('DELETE FROM presets WHERE name = ?', [request.params.name]);
    response.status(204).end();
  });

  return router;
}
