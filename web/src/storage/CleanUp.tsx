import { CONTRACT, type Keeping } from '@oiseau/api';
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Button, Modal } from 'react-bootstrap';
import { useVisitor } from '../access/VisitorContext.js';
import { call } from '../api/client.js';
import { keepingKey, shelfKey } from '../api/queries.js';
import { formatBytes, formatDate } from '../ui/format.js';
import { useNotices } from '../ui/Notices.js';
import { t } from '../ui/messages.js';

type What = 'unused' | 'bin' | 'passing';

const WARNINGS: Record<What, { title: string; words: string; action: string }> = {
  unused: {
    title: t('Delete unused files?'),
    words: t('These masters and pictures belong to no album and no revision. This can’t be undone.'),
    action: t('Delete files'),
  },
  bin: {
    title: t('Empty the bin?'),
    words: t(
      'The deleted albums are removed for good, with their revisions, renders and notes. This can’t be undone.',
    ),
    action: t('Empty the bin'),
  },
  passing: {
    title: t('Delete uploads and opened images?'),
    words: t('Uploads in progress must start again, and opened images must be opened again.'),
    action: t('Delete files'),
  },
};

/** What goes by itself, when, and the way to have the room now. */
export function CleanUp({ keeping: { unused, bin, stored } }: { keeping: Keeping }) {
  const queries = useQueryClient();
  // What other albums have left is for keys to all of them.
  const { unlimited } = useVisitor();
  const { tell, complain } = useNotices();
  const [asked, setAsked] = useState<What | null>(null);
  const refresh = async (): Promise<void> => {
    await queries.invalidateQueries({ queryKey: keepingKey });
    await queries.invalidateQueries({ queryKey: shelfKey });
  };
  const clear = async (what: What): Promise<void> => {
    setAsked(null);
    const { files, bytes } = await call(CONTRACT.clear, { body: { what } });
    tell(
      t('{files, plural, one {# file} other {# files}} deleted, {bytes}.', {
        files,
        bytes: formatBytes(bytes),
      }),
    );
    await refresh();
  };
  const restore = (id: string): void =>
    void call(CONTRACT.restoreAlbum, { params: { id } }).then(refresh, complain);
  const passing = stored
    .filter(({ kind }) => kind === 'uploads' || kind === 'images')
    .reduce((sum, { bytes }) => sum + bytes, 0);
  const bytesOf = (list: readonly { readonly bytes: number }[]): number =>
    list.reduce((sum, { bytes }) => sum + bytes, 0);
  return (
    <section aria-label={t('Automatic clean-up')}>
      <h2>{t('Automatic clean-up')}</h2>
      <table className="table keeping-table">
        <tbody>
          <tr>
            <th scope="row">{t('Unused masters and pictures')}</th>
            <td>
              {unused.length === 0
                ? t('none')
                : t('{count, plural, one {# file} other {# files}}, {bytes}; first deletion {date}', {
                    count: unused.length,
                    bytes: formatBytes(bytesOf(unused)),
                    date: formatDate(unused.map(({ goesAt }) => goesAt).sort()[0] ?? ''),
                  })}
            </td>
            <td className="num">
              {unlimited && <ClearButton empty={unused.length === 0} onClick={() => setAsked('unused')} />}
            </td>
          </tr>
          <tr>
            <th scope="row">{t('Uploads in progress and opened disc images')}</th>
            <td>
              {passing === 0
                ? t('none')
                : t('{passing}; deleted a day after last use', { passing: formatBytes(passing) })}
            </td>
            <td className="num">
              {unlimited && <ClearButton empty={passing === 0} onClick={() => setAsked('passing')} />}
            </td>
          </tr>
          <tr>
            <th scope="row">{t('Deleted albums')}</th>
            <td>
              {bin.length === 0
                ? t('none')
                : t('{count, plural, one {# album} other {# albums}}; removed 30 days after deletion', {
                    count: bin.length,
                  })}
            </td>
            <td className="num">
              <ClearButton empty={bin.length === 0} onClick={() => setAsked('bin')} />
            </td>
          </tr>
          {bin.map((album) => (
            <BinRow key={album.id} album={album} onRestore={restore} />
          ))}
        </tbody>
      </table>
      <ClearDialog
        what={asked}
        onHide={() => setAsked(null)}
        onClear={(what) => void clear(what).catch(complain)}
      />
    </section>
  );
}

function ClearButton({ empty, onClick }: { empty: boolean; onClick: () => void }) {
  return (
    <Button size="sm" variant="outline-primary" disabled={empty} onClick={onClick}>
      {t('Delete now …')}
    </Button>
  );
}

/** A deleted album, and the way back. */
function BinRow({
  album: { id, title, goesAt, renderBytes },
  onRestore,
}: {
  readonly album: Keeping['bin'][number];
  readonly onRestore: (id: string) => void;
}) {
  return (
    <tr className="binned">
      <th scope="row">{title || t('Untitled album')}</th>
      <td>
        {t('removed {when}', { when: formatDate(goesAt) })}
        {renderBytes > 0 && `, ${t('renders of {bytes}', { bytes: formatBytes(renderBytes) })}`}
      </td>
      <td className="num">
        <Button size="sm" variant="outline-primary" onClick={() => onRestore(id)}>
          {t('Restore')}
        </Button>
      </td>
    </tr>
  );
}

/** Asks before something goes for good. @param what null: nothing is asked */
function ClearDialog({
  what,
  onHide,
  onClear,
}: {
  readonly what: What | null;
  readonly onHide: () => void;
  readonly onClear: (what: What) => void;
}) {
  return (
    <Modal show={what !== null} onHide={onHide}>
      {what && (
        <>
          <Modal.Header closeButton>
            <Modal.Title as="h3">{WARNINGS[what].title}</Modal.Title>
          </Modal.Header>
          <Modal.Body>{WARNINGS[what].words}</Modal.Body>
          <Modal.Footer>
            <Button variant="outline-primary" onClick={onHide}>
              {t('Cancel')}
            </Button>
            <Button onClick={() => onClear(what)}>{WARNINGS[what].action}</Button>
          </Modal.Footer>
        </>
      )}
    </Modal>
  );
}
