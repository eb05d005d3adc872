export { patternNames } from './file-names.js';
export { partTags, trackTags } from './tag-set.js';
export {
  ALBUM_ROW,
  type CellEdit,
  TABLE_FIELDS,
  type TableColumn,
  type TableField,
  type TableRow,
  cellFault,
  cellText,
  hasCell,
  inheritedText,
  tableRows,
  writeCells,
} from './text-table.js';
