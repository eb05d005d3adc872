import { CONTRACT } from '@oiseau/api';
import { Router } from 'express';
import * as z from 'zod';
import type { Database } from '../db/database.js';
import { serve } from '../access/serve.js';
import {
  deletePreset,
  deleteTreatment,
  listPresets,
  listTreatments,
  savePreset,
  saveTreatment,
} from './preset-repository.js';

const presetName = z.string().trim().min(1).max(100);

/** Presets of people; those that ship are the interface's. */
export function presetRoutes(db: Database): Router {
  const router = Router();
  serve(router, CONTRACT.presets, () => listPresets(db));
  serve(router, CONTRACT.savePreset, async ({ params, body: deliverable }) => {
    const name = presetName.parse(params.name);
    await savePreset(db, name, deliverable);
    return { name, deliverable };
  });
  serve(router, CONTRACT.forgetPreset, ({ params }) => deletePreset(db, params.name));
  serve(router, CONTRACT.treatments, () => listTreatments(db));
  serve(router, CONTRACT.saveTreatment, async ({ params, body: treatment }) => {
    const name = presetName.parse(params.name);
    await saveTreatment(db, { name, treatment });
    return { name, treatment };
  });
  serve(router, CONTRACT.forgetTreatment, ({ params }) => deleteTreatment(db, params.name));
  return router;
}
