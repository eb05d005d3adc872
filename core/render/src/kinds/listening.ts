import { msg } from '@oiseau/messages';
import { continuousOfListening, listeningDeliverable, type ListeningDeliverable } from '@oiseau/album/model';
import { listeningPart } from '@oiseau/formats/papers';
import type { PlannedFile } from '../planned.js';
import { codingWords, soundForm } from './chosen-sound.js';
import { continuousKind } from './continuous.js';
import { asRecording, type Kind } from './kind.js';

/** A folder to listen to: each part as one file, gaps and all, and a page that plays them from a disk and takes an answer. */
export const listeningKind: Kind<ListeningDeliverable> = {
  settings: listeningDeliverable,
  plan: (deliverable, masters) => {
    const context = asRecording(masters, deliverable.alternate);
    const { album, parts, revision } = context;
    const audio = continuousKind
      .plan(continuousOfListening(deliverable), masters)
      .filter((file) => file.kind === 'audio')
      .map((file) => ({ ...file, path: `audio/${file.path}` }));
    if (audio.length === 0) return [];
    const page = {
      ...{ title: album.title, performer: album.performer, deliverable: deliverable.name, revision },
      parts: audio.flatMap(({ part: number, path }) => {
        const part = parts.find((each) => each.number === number);
        return part ? listeningPart(part, path, album.performer) : [];
      }),
    };
    return [...audio, { kind: 'listening-page', path: 'listen.html', page } satisfies PlannedFile];
  },
  words: (deliverable) =>
    msg('Listening copy: {coding} with a page', { coding: codingWords(continuousOfListening(deliverable)) }),
  form: (deliverable) => soundForm(continuousOfListening(deliverable)),
};
