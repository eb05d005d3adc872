import { english, msg } from '@oiseau/messages';
import { packageDeliverable, tracksOfPackage, type PackageDeliverable, partName } from '@oiseau/album/model';
import {
  labelCopy,
  labelPaper,
  labelRows,
  loudnessOrder,
  releaseOf,
  SHOP_COVER_PIXELS,
  type Release,
  type ReleaseAudio,
} from '@oiseau/formats/papers';
import { parseEan } from '@oiseau/formats/disc';
import type { PlannedAudio, PlannedFile } from '../planned.js';
import { soundForm } from './chosen-sound.js';
import type { Kind, PlanContext } from './kind.js';
import { tracksKind } from './tracks.js';

/** Where the payload of a bag lies [RFC 8493 2.1.2]. */
const DATA = 'data/';

/** What a shop takes (docs/rules.md 14.3): a bag [RFC 8493]. */
export const packageKind: Kind<PackageDeliverable> = {
  settings: packageDeliverable,
  plan: (deliverable, context) => {
    const { album, parts } = context;
    const audio = tracksKind
      .plan(tracksOfPackage(deliverable), context)
      .filter((file) => file.kind === 'audio')
      .map((file): PlannedAudio => ({ ...file, path: `${DATA}${file.path}` }));
    if (audio.length === 0) return [];
    const form = deliverable.cover;
    const coverName = form === 'jpeg' ? 'cover.jpg' : 'cover.png';
    const { language = 'en' } = deliverable;
    const copy = labelCopy(album, parts);
    const sheet = { rows: labelRows(copy), paper: labelPaper(copy, language) };
    const order = loudnessOrder(album, parts);
    const payload: PlannedFile[] = [
      ...audio,
      ...(album.artwork === null
        ? []
        : [{ kind: 'cover', form, path: `${DATA}${coverName}` } satisfies PlannedFile]),
      {
        kind: 'release',
        path: `${DATA}release.json`,
        release: release(deliverable, context, audio, coverName),
      },
      { kind: 'sheet', form: 'csv', path: `${DATA}label-copy.csv`, ...sheet },
      { kind: 'sheet', form: 'pdf', path: `${DATA}label-copy.pdf`, ...sheet },
      { kind: 'loudness', form: 'csv', path: `${DATA}loudness.csv`, order, language },
      { kind: 'loudness', form: 'pdf', path: `${DATA}loudness.pdf`, order, language },
    ];
    const inside = payload.map(({ path }) => path);
    const bag = { kind: 'bag', payload: inside, info: bagFacts(context) } as const;
    const tags: PlannedFile[] = [
      { ...bag, path: 'bagit.txt' },
      { ...bag, path: 'bag-info.txt' },
      { kind: 'sums', form: 'bag', path: 'manifest-sha256.txt', of: inside },
    ];
    const of = tags.map(({ path }) => path);
    return [...payload, ...tags, { kind: 'sums', form: 'bag', path: 'tagmanifest-sha256.txt', of }];
  },
  words: ({ format }) =>
    msg('Store package: {format} files, cover, release.json', { format: format.toUpperCase() }),
  form: (deliverable) => soundForm(tracksOfPackage(deliverable)),
};

function release(
  { cover, format, bits }: PackageDeliverable,
  { album, parts, revision }: PlanContext,
  audio: readonly PlannedAudio[],
  coverName: string,
): Release {
  const tracks = parts.flatMap((part) => part.tracks);
  const fileOf = (song: string): ReleaseAudio | undefined => {
    const file = audio[tracks.findIndex(({ id }) => id === song)];
    return (
      file && { path: file.path.slice(DATA.length), format, rate: file.rate, bits, samples: file.length }
    );
  };
  const picture = {
    path: coverName,
    mediaType: cover === 'jpeg' ? 'image/jpeg' : 'image/png',
    ...{ width: SHOP_COVER_PIXELS, height: SHOP_COVER_PIXELS },
  } as const;
  return releaseOf(album, parts, revision, picture, fileOf);
}

/** What the bag says of itself; no day, so that the same revision is the same bag. */
const bagFacts = ({ album, parts, revision }: PlanContext): (readonly [string, string])[] => [
  ['Source-Organization', album.label],
  ['External-Description', [album.performer, album.title].filter(Boolean).join(' – ')],
  ['External-Identifier', parseEan(album.upc) ?? ''],
  ['Internal-Sender-Identifier', `revision ${revision}`],
  [
    'Internal-Sender-Description',
    parts.length > 1 ? parts.map((part) => english(partName(part))).join(', ') : '',
  ],
];
