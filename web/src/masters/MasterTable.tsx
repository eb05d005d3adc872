import { masterDoubts, wordDoubt } from '@oiseau/checks';
import type { Silhouette } from '@oiseau/audio/measure';
import {
  createColumnHelper,
  flexRender,
  getCoreRowModel,
  getSortedRowModel,
  useReactTable,
  type Header,
  type Row,
  type SortingState,
  type VisibilityState,
} from '@tanstack/react-table';
import { useVirtualizer } from '@tanstack/react-virtual';
import { ArrowDown, ArrowUp, CircleAlert, Columns3 } from 'lucide-react';
import { memo, useMemo, useRef, useState } from 'react';
import { Button, Form } from 'react-bootstrap';
import { Link, useNavigate } from 'react-router';
import { useAlbum } from '../album/AlbumContext.js';
import { playersOf, playersText } from '../album/song-name.js';
import type { MasterRecord } from '@oiseau/api';
import { formatBytes } from '../ui/format.js';
import { useStored } from '../ui/useStored.js';
import { FIGURES, SHOWN_AT_FIRST, type MasterEntry } from './columns.js';
import { Measuring } from './Measuring.js';
import { Outline } from './Outline.js';
import { useAddTrack } from './useAddTrack.js';
import { useTakeOut } from './useTakeOut.js';
import { versionsOf } from './versions.js';
import { formWords } from './words.js';
import { IconMenu } from '../ui/IconMenu.js';
import { say, t } from '../ui/messages.js';

const column = createColumnHelper<MasterEntry>();
/** Height of a row, as the style sheet has it, and about how much stands above the first. */
const ROW_PX = 49;
const HEAD_PX = 96;
const FIGURE_IDS = FIGURES.map(({ id = '' }) => id);

/** The columns of the table. @param outlines by SHA-256 */
const columnsOf = (outlines: ReadonlyMap<string, Silhouette>) => [
  column.accessor(({ master }) => master.name, {
    id: 'name',
    header: t('File'),
    cell: ({ row }) => <FileCell entry={row.original} />,
  }),
  column.display({
    id: 'outline',
    header: t('Waveform'),
    cell: ({ row }) => (
      <OutlineCell master={row.original.master} outline={outlines.get(row.original.master.sha256)} />
    ),
  }),
  ...FIGURES,
  column.accessor(({ doubts }) => doubts.length, {
    id: 'doubts',
    header: t('Concerns'),
    cell: ({ row }) => <DoubtCell doubts={row.original.doubts} />,
  }),
  column.display({ id: 'use', header: t('Used as'), cell: ({ row }) => <UseCell entry={row.original} /> }),
];

/** Masters with what is doubtful of them and who plays them. */
function useEntries(masters: readonly MasterRecord[]): MasterEntry[] {
  const { parts, masters: all } = useAlbum('parts', 'masters');
  return useMemo(() => {
    const versions = versionsOf(all);
    return masters.map((master) => ({
      master,
      version: versions.get(master.sha256),
      doubts: masterDoubts(master).map((doubt) => say(wordDoubt(doubt))),
      playedBy: playersOf(parts, master.sha256),
    }));
  }, [masters, all, parts]);
}

/** The masters with the figures that matter, sorted by any of them, and a quiet sign where one is doubtful. */
export function MasterTable({
  masters,
  outlines,
}: {
  masters: readonly MasterRecord[];
  outlines: ReadonlyMap<string, Silhouette>;
}) {
  const [sorting, setSorting] = useState<SortingState>([]);
  const [shown, setShown] = useStored<readonly string[]>('oiseau-master-columns', SHOWN_AT_FIRST);
  const visibility: VisibilityState = Object.fromEntries(FIGURE_IDS.map((id) => [id, shown.includes(id)]));
  const columns = useMemo(() => columnsOf(outlines), [outlines]);
  const table = useReactTable({
    data: useEntries(masters),
    columns,
    state: { sorting, columnVisibility: visibility },
    onSortingChange: setSorting,
    getRowId: ({ master }) => master.sha256,
    getCoreRowModel: getCoreRowModel(),
    getSortedRowModel: getSortedRowModel(),
  });
  const { rows } = table.getRowModel();
  const body = useRef<HTMLTableElement>(null);
  // Only the rows in sight are in the page: an album may have hundreds of masters, each with its picture.
  const window = useVirtualizer({
    count: rows.length,
    getScrollElement: () => body.current?.closest('.album-view') ?? null,
    estimateSize: () => ROW_PX,
    overscan: 8,
    scrollMargin: HEAD_PX,
  });
  const inSight = window.getVirtualItems();
  const above = (inSight[0]?.start ?? HEAD_PX) - HEAD_PX;
  const below = window.getTotalSize() - ((inSight.at(-1)?.end ?? HEAD_PX) - HEAD_PX);
  return (
    <table ref={body} className="table master-table" aria-rowcount={rows.length + 1}>
      <colgroup>
        {table.getVisibleLeafColumns().map(({ id, columnDef }) => (
          <col key={id} className={isNumeric(columnDef.meta) ? `num ${id}` : id} />
        ))}
        <col className="column-choice" />
      </colgroup>
      <thead>
        {table.getHeaderGroups().map(({ id, headers }) => (
          <tr key={id}>
            {headers.map((header) => (
              <SortableHeader key={header.id} header={header} />
            ))}
            <th className="column-choice">
              <ColumnChoice shown={shown} onChange={setShown} />
            </th>
          </tr>
        ))}
      </thead>
      <tbody>
        {above > 0 && <tr aria-hidden style={{ height: above }} />}
        {inSight.map(({ index }) => {
          const row = rows[index];
          return row && <MasterRow key={row.id} row={row} place={index} shown={shown} columns={columns} />;
        })}
        {below > 0 && <tr aria-hidden style={{ height: below }} />}
      </tbody>
    </table>
  );
}

const ARIA_SORT = { asc: 'ascending', desc: 'descending' } as const;

function SortableHeader({ header }: { header: Header<MasterEntry, unknown> }) {
  const { column: of, id } = header;
  const direction = of.getIsSorted();
  const words = flexRender(of.columnDef.header, header.getContext());
  return (
    <th
      className={isNumeric(of.columnDef.meta) ? 'num' : id}
      aria-sort={direction === false ? undefined : ARIA_SORT[direction]}
    >
      {of.getCanSort() ? (
        <button type="button" className="sort-button" onClick={of.getToggleSortingHandler()}>
          {words}
          {direction === 'asc' && <ArrowUp size={13} aria-hidden />}
          {direction === 'desc' && <ArrowDown size={13} aria-hidden />}
        </button>
      ) : (
        words
      )}
    </th>
  );
}

const isNumeric = (meta: unknown): boolean => (meta as { numeric?: boolean } | undefined)?.numeric === true;

interface MasterRowProps {
  readonly row: Row<MasterEntry>;
  /** From 0, in the order shown. */
  readonly place: number;
  /** What makes a row look otherwise although its master is the same: only then is it drawn again. */
  readonly shown: readonly string[];
  readonly columns: unknown;
}

/** A press anywhere on the row opens the master, as its name does for the keyboard. */
const MasterRow = memo(function MasterRow({ row, place }: MasterRowProps) {
  const { id } = useAlbum('id');
  const navigate = useNavigate();
  return (
    <tr
      className="master"
      aria-rowindex={place + 2}
      onClick={({ target }) => {
        if (!(target instanceof Element && target.closest('a, button')))
          void navigate(`/albums/${id}/masters/${row.id}`);
      }}
    >
      {row.getVisibleCells().map((cell) => (
        <td
          key={cell.id}
          className={isNumeric(cell.column.columnDef.meta) ? 'num' : cell.column.id}
          colSpan={cell.column.id === 'use' ? 2 : 1}
        >
          {flexRender(cell.column.columnDef.cell, cell.getContext())}
        </td>
      ))}
    </tr>
  );
});

function FileCell({ entry: { master, version } }: { entry: MasterEntry }) {
  const { id } = useAlbum('id');
  return (
    <>
      <Link to={`/albums/${id}/masters/${master.sha256}`} className="file-name" title={master.name}>
        {master.name}
      </Link>
      <small className="text-secondary">
        {formWords(master)} · {formatBytes(master.bytes)}
        {version &&
          version.of > 1 &&
          ` · ${t('version {number} of {of}', { number: version.number, of: version.of })}`}
      </small>
    </>
  );
}

function OutlineCell({ master, outline }: { master: MasterRecord; outline: Silhouette | undefined }) {
  if (master.damaged)
    return <span className="text-danger">{t('Its record is damaged. Add the file again.')}</span>;
  if (!master.measurement) return <Measuring master={master} />;
  return outline ? <Outline outline={outline} name={master.name} /> : null;
}

function DoubtCell({ doubts }: { doubts: readonly string[] }) {
  const [first, ...others] = doubts;
  if (!first) return null;
  return (
    <span className="doubt" title={doubts.join('\n')}>
      <CircleAlert size={14} aria-hidden />
      <span>
        {first}
        {others.length > 0 && (
          <span className="text-secondary"> {t('and {count} more', { count: others.length })}</span>
        )}
      </span>
    </span>
  );
}

function UseCell({ entry: { master, playedBy } }: { entry: MasterEntry }) {
  const addTrack = useAddTrack();
  const takeOut = useTakeOut();
  if (playedBy.length > 3) return t('{count} tracks', { count: playedBy.length });
  if (playedBy.length > 0) return playersText(playedBy);
  return (
    <>
      <Button size="sm" variant="link" className="p-0" onClick={() => addTrack(master)}>
        {t('Add as track')}
      </Button>
      <br />
      <Button
        size="sm"
        variant="link"
        className="p-0"
        aria-label={t('Remove {name}', { name: master.name })}
        onClick={() => void takeOut([master])}
      >
        {t('Remove')}
      </Button>
    </>
  );
}

function ColumnChoice({
  shown,
  onChange,
}: {
  shown: readonly string[];
  onChange: (shown: readonly string[]) => void;
}) {
  return (
    <IconMenu
      icon={Columns3}
      size={16}
      label={t('Choose columns')}
      menuClass="column-menu"
      autoClose="outside"
    >
      {FIGURES.map(({ id = '', header }) => (
        <Form.Check
          key={id}
          id={`column-${id}`}
          label={String(header)}
          checked={shown.includes(id)}
          onChange={({ target }) =>
            onChange(target.checked ? [...shown, id] : shown.filter((other) => other !== id))
          }
        />
      ))}
    </IconMenu>
  );
}
