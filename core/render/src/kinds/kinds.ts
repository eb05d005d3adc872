import { msg, type Message } from '@oiseau/messages';
import { MAIN, recordingsOf, type Deliverable } from '@oiseau/album/model';
import type { Plan } from '../planned.js';
import { continuousKind } from './continuous.js';
import { cueKind } from './cue.js';
import { cuttingRoomKind } from './cutting-room.js';
import { ddpKind } from './ddp.js';
import type { Kind, PlanContext } from './kind.js';
import { listeningKind } from './listening.js';
import { packageKind } from './package.js';
import { tracksKind } from './tracks.js';

type Of<K extends Deliverable['kind']> = Extract<Deliverable, { kind: K }>;

/** Every kind of deliverable. One that is added to the settings breaks the build here until it is there. */
const KINDS: { readonly [K in Deliverable['kind']]: Kind<Of<K>> } = {
  ddp: ddpKind,
  cue: cueKind,
  tracks: tracksKind,
  continuous: continuousKind,
  'cutting-room': cuttingRoomKind,
  package: packageKind,
  listening: listeningKind,
};

const kindOf = (deliverable: Deliverable): Kind<Deliverable> => KINDS[deliverable.kind] as Kind<Deliverable>;

/** The sums of all files of a deliverable, `sha256sum -c` compatible (docs/album-file.md 2). */
export const SUMS = 'SHA256SUMS';

/** Everything that a deliverable will write, as it will be named and as long as it will be. */
export function planDeliverable(deliverable: Deliverable, context: PlanContext): Plan {
  const files = kindOf(deliverable).plan(deliverable, context);
  if (files.length === 0) return { deliverable, files };
  return {
    deliverable,
    files: [...files, { kind: 'sums', form: 'plain', path: SUMS, of: files.map(({ path }) => path) }],
  };
}

/** What a deliverable is, in a few words, with the recordings that it is made of where those are not the masters alone. */
export function kindWords(deliverable: Deliverable): Message {
  const words = kindOf(deliverable).words(deliverable);
  const recordings = recordingsOf(deliverable).map((name) => (name === MAIN ? 'masters' : name));
  return recordings.join() === 'masters'
    ? words
    : msg('{kind}: {versions}', { kind: words, versions: recordings.join(', ') });
}

/** How its audio is kept: “16 bit, 44.1 kHz”, “320 kbit/s, rate as the master”. */
export const formWords = (deliverable: Deliverable): Message => kindOf(deliverable).form(deliverable);
