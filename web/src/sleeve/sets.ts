import { CD_TEXT_FIELDS, type Album } from '@oiseau/album/model';
import type { TableField } from '@oiseau/formats/tags';
import type { ShownColumn } from './grid/GridRow.js';
import { t } from '../ui/messages.js';

export const FIELD_NAMES: Record<TableField, string> = {
  title: t('Title'),
  performer: t('Performer'),
  songwriter: t('Songwriter'),
  composer: t('Composer'),
  arranger: t('Arranger'),
  lyricist: t('Lyricist'),
  publisher: t('Publisher'),
  message: t('Message'),
  comment: t('Comment'),
  isrc: 'ISRC',
  language: t('Language'),
  advisory: t('Advisory'),
  copyPermitted: t('Copy permitted'),
  preEmphasis: t('Pre-emphasis'),
};

const columns = (second: boolean, ...fields: readonly (readonly [TableField, number])[]): ShownColumn[] =>
  fields.map(([field, wide]) => ({ field, second, wide, name: FIELD_NAMES[field] }));

const NAMES = columns(
  false,
  ['title', 1.6],
  ['performer', 1.2],
  ['songwriter', 1],
  ['composer', 1],
  ['arranger', 1],
  ['lyricist', 1],
  ['isrc', 1.1],
);
const MORE = columns(
  false,
  ['title', 1.4],
  ['message', 1.4],
  ['comment', 1.2],
  ['publisher', 1],
  ['language', 0.7],
  ['advisory', 0.7],
  ['copyPermitted', 0.8],
  ['preEmphasis', 0.8],
);
const SECOND = columns(true, ...CD_TEXT_FIELDS.map((field) => [field, 1] as const));

/** Columns that are shown together: all of them would not fit side by side. */
export const setsOf = ({ secondLanguage }: Album): Readonly<Record<string, readonly ShownColumn[]>> => ({
  [t('Names and codes')]: NAMES,
  [t('More text, flags')]: MORE,
  ...(secondLanguage && { [t('Second language')]: SECOND }),
});
