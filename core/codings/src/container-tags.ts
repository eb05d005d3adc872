import { LANGUAGES } from './languages.js';
import { TAG_NAMES, type TagName, type TagSet } from './tag-names.js';

/** How a kind of file keeps tags (docs/rules.md 9.1). */
export type TagContainer = 'vorbis' | 'id3' | 'id3v4' | 'mp4' | 'riff';

export const id3Container = (version: 2.3 | 2.4): 'id3' | 'id3v4' => (version === 2.4 ? 'id3v4' : 'id3');

/** A tag under the name that its container gives it. */
export interface ContainerTag {
  readonly key: string;
  readonly value: string;
}

/**
 * Where each container keeps a tag. ID3v2.3 frames [id3.org], and those that ID3v2.4 has instead; atoms of the MP4 item list, four letters or a free form
 * (“----”); LIST INFO of RIFF, the ISRC in `axml` [EBU Tech 3352]. null: the container has no place for it.
 */
interface Places {
  readonly id3: string;
  readonly id3v4?: string;
  readonly mp4: string;
  readonly riff: string | null;
}

const free = (name: string): Places => ({ id3: `TXXX:${name}`, mp4: `----:${name}`, riff: null });

const PLACES: Readonly<Record<TagName, Places>> = {
  TITLE: { id3: 'TIT2', mp4: '©nam', riff: 'INAM' },
  ARTIST: { id3: 'TPE1', mp4: '©ART', riff: 'IART' },
  ALBUM: { id3: 'TALB', mp4: '©alb', riff: 'IPRD' },
  ALBUMARTIST: { id3: 'TPE2', mp4: 'aART', riff: null },
  TRACKNUMBER: { id3: 'TRCK', mp4: 'trkn', riff: 'ITRK' },
  TRACKTOTAL: { id3: 'TRCK', mp4: 'trkn', riff: null },
  DISCNUMBER: { id3: 'TPOS', mp4: 'disk', riff: null },
  DISCTOTAL: { id3: 'TPOS', mp4: 'disk', riff: null },
  DATE: { id3: 'TYER', id3v4: 'TDRC', mp4: '©day', riff: 'ICRD' },
  GENRE: { id3: 'TCON', mp4: '©gen', riff: 'IGNR' },
  COMPOSER: { id3: 'TCOM', mp4: '©wrt', riff: 'IMUS' },
  LYRICIST: { ...free('LYRICIST'), id3: 'TEXT' },
  ARRANGER: free('ARRANGER'),
  ISRC: { id3: 'TSRC', mp4: '----:ISRC', riff: 'axml ISRC' },
  BARCODE: free('BARCODE'),
  LABEL: { ...free('LABEL'), id3: 'TPUB' },
  // TPUB is the label’s: what publishes the song needs another name.
  PUBLISHER: free('MUSICPUBLISHER'),
  CATALOGNUMBER: free('CATALOGNUMBER'),
  COPYRIGHT: { id3: 'TCOP', mp4: 'cprt', riff: 'ICOP' },
  PHONOGRAM: { ...free('PHONOGRAM'), id3v4: 'TPRO' },
  LANGUAGE: { ...free('LANGUAGE'), id3: 'TLAN' },
  ADVISORY: { ...free('ADVISORY'), mp4: 'rtng' },
  COMMENT: { id3: 'COMM', mp4: '©cmt', riff: 'ICMT' },
  BPM: { id3: 'TBPM', mp4: 'tmpo', riff: null },
};
const placeIn = (places: Places, container: Exclude<TagContainer, 'vorbis'>): string | null =>
  container === 'id3v4' ? (places.id3v4 ?? places.id3) : places[container];

/** Pairs that a container writes as “3/9” under one name. */
const PAIRS: Readonly<Partial<Record<TagName, TagName>>> = {
  TRACKNUMBER: 'TRACKTOTAL',
  DISCNUMBER: 'DISCTOTAL',
};
const TOTALS = new Set<string>(Object.values(PAIRS));

/** Exactly what a file of this container will carry, in a fixed order. */
export function containerTags(tags: TagSet, container: TagContainer): ContainerTag[] {
  if (container === 'vorbis') return Object.entries(tags).map(([key, value]) => ({ key, value }));
  const known = TAG_NAMES.flatMap((name): ContainerTag[] => {
    const value = tags[name];
    if (value === undefined || (container !== 'riff' && TOTALS.has(name))) return [];
    const key = placeIn(PLACES[name], container);
    return key === null ? [] : placed(name, value, key, container, tags);
  });
  if (container === 'riff') return known;
  const own = Object.entries(tags).filter(([name]) => !TAG_NAMES.some((each) => each === name));
  return [...known, ...own.map(([name, value]) => ({ key: placeIn(free(name), container) ?? name, value }))];
}

function placed(
  name: TagName,
  value: string,
  key: string,
  container: Exclude<TagContainer, 'vorbis'>,
  tags: TagSet,
): ContainerTag[] {
  const total = PAIRS[name];
  if (total && container !== 'riff') {
    const all = tags[total];
    return [{ key, value: all === undefined ? value : `${value}/${all}` }];
  }
  if (name === 'ADVISORY' && container === 'mp4') {
    // 1: explicit, 2: a cleaned version.
    const code = { explicit: '1', clean: '2' }[value];
    return code === undefined ? [] : [{ key, value: code }];
  }
  if (name === 'DATE' && container === 'id3') return id3Date(value);
  if (name === 'LANGUAGE' && (container === 'id3' || container === 'id3v4')) {
    const iso = LANGUAGES[value.toLowerCase().split('-')[0] ?? '']?.iso;
    return [iso === undefined ? { key: 'TXXX:LANGUAGE', value } : { key, value: iso }];
  }
  return [{ key, value }];
}

/** ID3v2.3 keeps the year and, apart from it, the day as DDMM. */
function id3Date(value: string): ContainerTag[] {
  const [, year, month, day] = /^(\d{4})(?:-(\d\d)(?:-(\d\d))?)?/.exec(value) ?? [];
  if (year === undefined) return [{ key: 'TXXX:DATE', value }];
  const tags = [{ key: 'TYER', value: year }];
  if (month !== undefined && day !== undefined) tags.push({ key: 'TDAT', value: `${day}${month}` });
  return tags;
}

const REPORTED_ID3 = {
  TIT2: 'TITLE',
  TPE1: 'ARTIST',
  TALB: 'ALBUM',
  TPE2: 'ALBUM_ARTIST',
  TRCK: 'TRACK',
  TPOS: 'DISC',
  TYER: 'DATE',
  TDRC: 'DATE',
  TCON: 'GENRE',
  TCOM: 'COMPOSER',
  TPUB: 'PUBLISHER',
  TCOP: 'COPYRIGHT',
  TLAN: 'LANGUAGE',
  COMM: 'COMMENT',
};
/** Names under which FFmpeg reports a container's own; a name that is not here is reported as it is, in capitals. */
const REPORTED: Readonly<Record<TagContainer, Readonly<Record<string, string>>>> = {
  vorbis: { TRACKNUMBER: 'TRACK', DISCNUMBER: 'DISC', ALBUMARTIST: 'ALBUM_ARTIST' },
  id3: REPORTED_ID3,
  id3v4: REPORTED_ID3,
  mp4: {
    '©nam': 'TITLE',
    '©ART': 'ARTIST',
    '©alb': 'ALBUM',
    aART: 'ALBUM_ARTIST',
    trkn: 'TRACK',
    disk: 'DISC',
    '©day': 'DATE',
    '©gen': 'GENRE',
    '©wrt': 'COMPOSER',
    cprt: 'COPYRIGHT',
    '©cmt': 'COMMENT',
    rtng: 'RATING',
  },
  riff: {
    INAM: 'TITLE',
    IART: 'ARTIST',
    IPRD: 'ALBUM',
    ITRK: 'TRACK',
    ICRD: 'DATE',
    IGNR: 'GENRE',
    ICOP: 'COPYRIGHT',
    ICMT: 'COMMENT',
  },
};

/** The value that FFmpeg reports for a tag of a container; undefined when it reports none. */
export function reportedTag(
  reported: Readonly<Record<string, string>>,
  key: string,
  container: TagContainer,
): string | undefined {
  const own = key.replace(/^(TXXX|----):/, '');
  const name = REPORTED[container][own];
  const value = (name === undefined ? undefined : reported[name]) ?? reported[own.toUpperCase()];
  // Where an `id3 ` chunk stands beside LIST INFO, that has told “3/9”.
  if (container === 'riff' && key === 'ITRK') return value?.split('/')[0];
  // ID3v2.3 keeps the year apart from the day; FFmpeg joins them.
  if (container === 'id3' && key === 'TYER') return value?.slice(0, 4);
  if (container === 'id3' && key === 'TDAT')
    return reported.DATE?.replace(/^\d{4}-(\d\d)-(\d\d)$/, '$2$1') ?? value;
  return value;
}
