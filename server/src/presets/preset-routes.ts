import { CONTRACT } from '@oiseau/api';
import { Router } from 'express';
import * as z from 'zod';
import type { Database } from '../db/database.js';
import { demandUnlimited, visitorOf } from '../access/authentication.js';
import { serve } from '../access/serve.js';
import type { Visitor } from '../access/visitor.js';
import {
  deletePreset,
  deleteTreatment,
  listPresets,
  listTreatments,
  savePreset,
  saveTreatment,
} from './preset-repository.js';

const presetName = z.string().trim().min(1).max(100);

/** Presets are shared by all albums: a key that is limited to some adds to them and replaces none. @throws ApiError 403 */
function demandOwn(visitor: Visitor, there: readonly { readonly name: string }[], name: string): void {
  if (there.some((each) => each.name.toLowerCase() === name.toLowerCase())) demandUnlimited(visitor);
}

/** Presets of people; those that ship are the interface's. */
export function presetRoutes(db: Database): Router {
  const router = Router();
  serve(router, CONTRACT.presets, () => listPresets(db));
  serve(router, CONTRACT.savePreset, async ({ params, body: deliverable }, request) => {
    const name = presetName.parse(params.name);
    demandOwn(visitorOf(request), await listPresets(db), name);
    await savePreset(db, name, deliverable);
    return { name, deliverable };
  });
  serve(router, CONTRACT.forgetPreset, ({ params }) => deletePreset(db, params.name));
  serve(router, CONTRACT.treatments, () => listTreatments(db));
  serve(router, CONTRACT.saveTreatment, async ({ params, body: treatment }, request) => {
    const name = presetName.parse(params.name);
    demandOwn(visitorOf(request), await listTreatments(db), name);
    await saveTreatment(db, { name, treatment });
    return { name, treatment };
  });
  serve(router, CONTRACT.forgetTreatment, ({ params }) => deleteTreatment(db, params.name));
  return router;
}
