import type { EditionDifference } from '@oiseau/album/edits';
import { mediumWords, partName, partsOf, songOf, type Album } from '@oiseau/album/model';
import { treatmentWords, type AlbumTreatment } from '@oiseau/audio/stages';
import { secondsText } from '../sequence/change-words.js';
import { clockText, formatDb } from '../ui/format.js';
import { say, t } from '../ui/messages.js';

/** What a field of an edition is called. */
export const FIELD_WORDS: Readonly<Record<EditionDifference['field'], string>> = {
  order: t('Running order'),
  parts: t('Parts'),
  sound: t('Treatment'),
  title: t('Title'),
  upc: t('UPC/EAN'),
  catalogNumber: t('Catalogue number'),
  releaseDate: t('Release date'),
  in: t('In point'),
  out: t('Out point'),
  gapBefore: t('Gap'),
  fadeIn: t('Fade-in'),
  fadeOut: t('Fade-out'),
  gainDb: t('Gain'),
  indexes: t('Indexes'),
  isrc: t('ISRC'),
};

/** Fields that are typed as text. */
export const isTextField = ({ field }: EditionDifference): boolean =>
  ['title', 'upc', 'catalogNumber', 'releaseDate', 'isrc'].includes(field);

const treatment = (sound: AlbumTreatment): string =>
  treatmentWords(sound).map(say).join(', ') || t('untreated');

/** The value of a field in an album, or in an edition as an album of its own; a dash where it has none. */
export function valueWords(album: Album, { song, field }: EditionDifference): string {
  if (song === null) return albumValueWords(album, field) || '–';
  const track = songOf(album, song);
  return track ? trackValueWords(track, field) || '–' : '–';
}

function albumValueWords(album: Album, field: EditionDifference['field']): string {
  switch (field) {
    case 'order':
      return album.songs.map(({ title }) => title || t('Untitled')).join(' · ');
    case 'parts':
      return partsOf(album)
        .map((part) => `${say(partName(part))} (${say(mediumWords(part.medium))})`)
        .join(', ');
    case 'sound':
      return treatment(album.sound);
    default:
      return field === 'title' || field === 'upc' || field === 'catalogNumber' || field === 'releaseDate'
        ? album[field]
        : '';
  }
}

function trackValueWords(
  { region, marks, title, isrc }: Album['songs'][number],
  field: EditionDifference['field'],
): string {
  switch (field) {
    case 'in':
      return clockText(region.in, 2);
    case 'out':
      return region.out === null ? t('end of the master') : clockText(region.out, 2);
    case 'gapBefore':
      return secondsText(region.gapBefore);
    case 'fadeIn':
    case 'fadeOut':
      return secondsText(region[field].length);
    case 'gainDb':
      return t('{gain} dB', { gain: formatDb(region.gainDb, 2) });
    case 'sound':
      return treatment(region.sound);
    case 'indexes':
      return String(marks.indexes.length);
    case 'title':
      return title;
    case 'isrc':
      return isrc;
    default:
      return '';
  }
}
