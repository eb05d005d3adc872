import { msg } from '@oiseau/messages';
import { Failure } from '@oiseau/audio/errors';
import { treatmentSchema, type Treatment, MOST_KNEE_DB } from '@oiseau/audio/stages';
import { albumSchema, type Album } from '../model/album.js';
import { deliverableSchema, type Deliverable } from '../model/deliverable.js';
import type * as z from '@oiseau/audio/z';

/** A document on its way from an older form to today's: nothing is known of it yet but that it is an object. */
type Raw = Readonly<Record<string, unknown>>;

/** How documents of one kind are kept: each step leads from one version to the next, the first from version 1. */
interface StoredForm<T> {
  readonly steps: readonly ((document: Raw) => Raw)[];
  readonly schema: z.ZodType<T>;
}

/** A document that a later version of Oiseau has written. */
export class LaterDocument extends Failure {
  override readonly name = 'LaterDocument';
  readonly code = 'later-version';
  readonly status = 409;
  constructor(readonly version: number) {
    super(msg('This was saved by a later version of Oiseau. Open it with that version.'));
  }
}

const isObject = (value: unknown): value is Raw =>
  typeof value === 'object' && value !== null && !Array.isArray(value);

/** What any version has kept, in today's form and not validated. Documents from before versions were written are of version 1. */
function upToDate<T>({ steps }: StoredForm<T>, document: unknown): Raw {
  const { version = 1, ...content } = isObject(document) ? document : {};
  if (typeof version !== 'number' || version > steps.length + 1) throw new LaterDocument(Number(version));
  return steps.slice(version - 1).reduce<Raw>((older, step) => step(older), content);
}

const read = <T>(form: StoredForm<T>, document: unknown): T => form.schema.parse(upToDate(form, document));

const write = <T extends object>({ steps }: StoredForm<T>, value: T): object => ({
  version: steps.length + 1,
  ...value,
});

/** What was silent of a track of version 1. */
const MARKS = ['indexes', 'markLead', 'pauseDelay', 'tempo'];
const REGION = ['master', 'in', 'out', 'gapBefore', 'gainDb', 'fadeIn', 'fadeOut'];

/**
 * Version 1 had its tracks in one list and the hidden song beside it, and all fields of a track together. Fields that came while it was
 * in use may be missing.
 */
function songsOfVersion1(document: Raw): Raw {
  const { hidden, tracks, accepted, ...album } = document;
  const pick = (track: Raw, fields: readonly string[]): Raw =>
    Object.fromEntries(fields.filter((field) => field in track).map((field) => [field, track[field]]));
  const taken = new Set<unknown>();
  const songOf = (track: Raw, numbered: boolean): Raw => {
    const words = Object.entries(track).filter(([field]) => ![...MARKS, ...REGION].includes(field));
    // Nothing kept two tracks from having one id; of such the later ones get another.
    let { id } = track;
    for (let n = 2; taken.has(id); n++) id = `${String(track.id).slice(0, 36)}-${n}`;
    taken.add(id);
    return {
      ...Object.fromEntries(words),
      id,
      numbered,
      region: pick(track, REGION),
      marks: { markLead: null, pauseDelay: null, tempo: null, ...pick(track, MARKS) },
    };
  };
  const list = (value: unknown): Raw[] => (Array.isArray(value) ? value.filter(isObject) : []);
  return {
    ...album,
    accepted: list(accepted).map(({ track, ...each }) => ({ ...each, song: track })),
    songs: [
      ...(isObject(hidden) ? [songOf(hidden, false)] : []),
      ...list(tracks).map((track) => songOf(track, true)),
    ],
    parts: [],
  };
}

/** In version 3 the sound of a song and of the album came; what says nothing of it is untreated. */
const untreatedOfVersion2 = (document: Raw): Raw => document;

/** In version 4 alternates came; what says nothing of them has none. */
const mastersOfVersion3 = (document: Raw): Raw => document;
/** And with version 2 of a deliverable those that it is made of; what says nothing of them is made of the masters. */
const mastersOfVersion1 = (document: Raw): Raw => document;

/** In version 5 of an album and 3 of a deliverable packages for shops and folders to listen to came. */
const asItWas = (document: Raw): Raw => document;

/** Version 5 let a compressor's knee be up to 40 dB; no more than the documented 24 are read. */
const kneesOfVersion5 = (value: Raw): Raw => withKnees(value) as Raw;

function withKnees(value: unknown): unknown {
  if (Array.isArray(value)) return value.map(withKnees);
  if (!isObject(value)) return value;
  return Object.fromEntries(
    Object.entries(value).map(([key, child]) => [
      key,
      key === 'compressor' && isObject(child) && typeof child.knee === 'number'
        ? { ...child, knee: Math.min(MOST_KNEE_DB, child.knee) }
        : withKnees(child),
    ]),
  );
}

const ALBUM: StoredForm<Album> = {
  // In version 7 editions came; a document without them has none.
  steps: [songsOfVersion1, untreatedOfVersion2, mastersOfVersion3, asItWas, kneesOfVersion5, asItWas],
  schema: albumSchema,
};
const DELIVERABLE: StoredForm<Deliverable> = {
  steps: [mastersOfVersion1, asItWas],
  schema: deliverableSchema,
};

/**
 * An album as it was kept, by this version or an earlier one.
 * @throws LaterDocument, or a ZodError when it is no album
 */
export const readAlbumDocument = (document: unknown): Album => read(ALBUM, document);
/**
 * The document of an album in today's form, as `albumDocument` would write it, for a change that is validated afterwards.
 * @throws LaterDocument; ZodError when an earlier version's is no album
 */
export function newestForm(document: unknown): object {
  const isNewest = isObject(document) && document.version === ALBUM.steps.length + 1;
  return isNewest ? document : albumDocument(readAlbumDocument(document));
}
/** An album as it is kept, with the version of its form. */
export const albumDocument = (album: Album): object => write(ALBUM, album);

/** A treatment that people have kept, by this version or an earlier one. @throws ZodError */
export const readTreatmentDocument = (document: unknown): Treatment =>
  treatmentSchema.parse(withKnees(document));

/** The settings of a deliverable (a preset, or those of a delivery) as they were kept. */
export const readDeliverableDocument = (document: unknown): Deliverable => read(DELIVERABLE, document);
export const deliverableDocument = (deliverable: Deliverable): object => write(DELIVERABLE, deliverable);
