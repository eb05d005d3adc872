import { History } from 'lucide-react';
import { useState } from 'react';
import { Dropdown } from 'react-bootstrap';
import { Link } from 'react-router';
import { useMay } from '../access/VisitorContext.js';
import { useAlbum } from '../album/AlbumContext.js';
import type { Editing } from '../workspace/history.js';
import { IconMenu } from '../ui/IconMenu.js';
import { t } from '../ui/messages.js';

/** Steps shown in each direction; further back leads Undo, step by step. */
const MOST_SHOWN = 30;

const UNSEEN: Pick<Editing, 'past' | 'future'> = { past: [], future: [] };

/** What was done, in words, the newest on top: a press goes back to before it, or does again what was undone. */
export function HistoryMenu() {
  const { id, editing, undo, redo } = useAlbum('id', 'editing', 'undo', 'redo');
  const works = useMay('work');
  const [shown, setShown] = useState(false);
  // A closed menu isn't redrawn with every edit.
  const { past, future } = shown ? editing : UNSEEN;
  const done = past.slice(-MOST_SHOWN).reverse();
  const undone = future.slice(0, MOST_SHOWN).map((step, i) => ({ step, steps: i + 1 }));
  return (
    <IconMenu
      icon={History}
      size={20}
      label={t('History')}
      title={t('Edit history')}
      toggleClass="history-toggle"
      menuClass="history-menu"
      show={shown}
      onToggle={setShown}
    >
      {undone.reverse().map(({ step, steps }) => (
        <Dropdown.Item key={`future ${steps}`} as="button" className="undone" onClick={() => redo(steps)}>
          {step.words} <span className="text-secondary">{t('undone')}</span>
        </Dropdown.Item>
      ))}
      <Dropdown.Header>{t('now')}</Dropdown.Header>
      {done.map((step, i) => (
        <Dropdown.Item key={`past ${past.length - i}`} as="button" onClick={() => undo(i + 1)}>
          {step.words}
        </Dropdown.Item>
      ))}
      {past.length > done.length && (
        <Dropdown.ItemText className="text-secondary">
          {t('and {count} earlier', { count: past.length - done.length })}
        </Dropdown.ItemText>
      )}
      {works && (
        <>
          <Dropdown.Divider />
          <Dropdown.Item as={Link} to={`/albums/${id}/events`}>
            {t('Activity')}
          </Dropdown.Item>
        </>
      )}
    </IconMenu>
  );
}
