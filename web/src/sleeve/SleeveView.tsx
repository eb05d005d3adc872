import { ALBUM_ROW, cellText, tableRows, writeCells, type CellEdit } from '@oiseau/formats/tags';
import { tracksOf } from '@oiseau/album/model';
import { useState } from 'react';
import { Button } from 'react-bootstrap';
import { Link, useSearchParams } from 'react-router';
import { useAlbum } from '../album/AlbumContext.js';
import { TabPanel, TabPlace, Tabs } from '../ui/Tabs.js';
import { AlbumFields } from './AlbumFields.js';
import { CodesDialog } from './CodesDialog.js';
import { CoverField } from './CoverField.js';
import { CsvButtons } from './CsvButtons.js';
import { go, START, type GridState } from './grid/grid-state.js';
import { TextGrid } from './grid/TextGrid.js';
import { Reads } from './Reads.js';
import { setsOf } from './sets.js';
import { useAddressed, useOpened } from '../ui/addressed.js';
import { TagsDialog } from './TagsDialog.js';
import { t } from '../ui/messages.js';

/** All words and codes of the album and its tracks, and how they will read. */
export function SleeveView() {
  const { id, album, edit } = useAlbum('id', 'album', 'edit');
  const [search] = useSearchParams();
  const [state, setState] = useState<GridState>(() => {
    const row = tableRows(album).indexOf(search.get('song'));
    return search.has('song') && row >= 0 ? go({ row, column: 0 }) : START;
  });
  const sets = setsOf(album);
  const names = Object.keys(sets);
  const [chosen, setChosen] = useAddressed('columns', names[0] ?? '');
  const codes = useOpened('codes');
  const tags = useOpened('tags');
  const set = sets[chosen] ?? Object.values(sets)[0] ?? [];
  const write = (edits: readonly CellEdit[], words: string): void => {
    edit(words, (before) => writeCells(before, edits));
  };
  const column = set[state.at.column];
  const row = tableRows(album)[state.at.row] ?? ALBUM_ROW;

  /** Gives all tracks what the cell in hand says. */
  const sameForAll = (): void => {
    if (!column) return;
    const text = cellText(album, row, column);
    const edits = tracksOf(album).map(({ id }) => ({ row: id, column, text }));
    write(edits, t('{column} “{text}” for all tracks', { column: column.name, text }));
  };
  return (
    <div className="sleeve">
      <div className="sleeve-album">
        <CoverField />
        <AlbumFields />
      </div>
      {album.songs.length === 0 ? (
        <p className="text-secondary">{t('Add masters to edit track titles and codes here.')}</p>
      ) : (
        <TabPlace
          id="columns"
          chosen={chosen}
          onChoose={(name) => {
            setChosen(name);
            setState(go({ row: state.at.row, column: 0 }));
          }}
        >
          <div className="grid-tools">
            <Tabs label={t('Columns')} names={Object.fromEntries(names.map((name) => [name, name]))} />
            <span className="flex-grow-1" />
            <Button
              size="sm"
              variant="outline-primary"
              title={t('Copies the selected cell to all tracks')}
              onClick={sameForAll}
            >
              {t('Copy to all tracks')}
            </Button>
            <Button size="sm" variant="outline-primary" onClick={codes.open}>
              {t('Assign ISRCs …')}
            </Button>
            <Button
              size="sm"
              variant="outline-primary"
              title={t('Tags written to the files')}
              onClick={tags.open}
            >
              {t('Tags …')}
            </Button>
            <Link className="btn btn-outline-primary btn-sm" to={`/albums/${id}/sleeve/label-copy`}>
              {t('Label copy')}
            </Link>
            <CsvButtons />
          </div>
          <TabPanel chosen={chosen}>
            <TextGrid columns={set} state={state} onState={setState} onWrite={write} />
          </TabPanel>
          <Reads row={row} second={column?.second ?? false} />
        </TabPlace>
      )}
      {tags.isOpen && <TagsDialog first={row ?? ''} onHide={tags.close} />}
      {codes.isOpen && <CodesDialog onHide={codes.close} />}
    </div>
  );
}
