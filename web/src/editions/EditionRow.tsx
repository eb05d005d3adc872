import type { Transition } from '@oiseau/album/compare';
import { adoptDraft, draftAsEdition, removeEdition } from '@oiseau/album/edits';
import { partName } from '@oiseau/album/model';
import { ticks } from '@oiseau/audio/time';
import { Button, Dropdown } from 'react-bootstrap';
import { useMay } from '../access/VisitorContext.js';
import { useAlbum } from '../album/AlbumContext.js';
import { endOf, type SkylineView } from '../sequence/skyline.js';
import { clockText } from '../ui/format.js';
import { say, t } from '../ui/messages.js';
import { useNotices } from '../ui/Notices.js';
import { EditionSkyline } from './EditionSkyline.js';
import type { LaidOutEdition } from './useLaidOutEditions.js';

interface EditionRowProps {
  readonly of: LaidOutEdition;
  readonly view: SkylineView;
  readonly isShown: boolean;
  /** Names of editions that a draft can replace. */
  readonly targets: readonly string[];
  readonly playing: { readonly index: number } | null;
  readonly transitions: readonly Transition[];
}

/** One edition: its name, lengths and Skyline, and what can be done with it. */
export function EditionRow({ of, view, isShown, targets, playing, transitions }: EditionRowProps) {
  const { edition, parts, unheard } = of;
  const { showEdition } = useAlbum('showEdition');
  const now = playing && transitions[playing.index];
  const tracks = parts.reduce((sum, part) => sum + part.tracks.length, 0);
  return (
    <section className={isShown ? 'edition-row shown' : 'edition-row'} aria-label={edition.name}>
      <header>
        <h3>
          {edition.name} {edition.draft && <small className="draft-sign">{t('draft')}</small>}
        </h3>
        <span>{t('{tracks, plural, one {# track} other {# tracks}}', { tracks })}</span>
        <Lengths of={of} />
        {unheard.size > 0 && (
          <span className="not-yet-heard">
            {t('{count, plural, one {# transition} other {# transitions}} not yet heard', {
              count: unheard.size,
            })}
          </span>
        )}
        <span className="flex-grow-1" />
        {edition.draft && <DraftActions name={edition.name} targets={targets} />}
        <Button
          size="sm"
          variant="outline-primary"
          disabled={isShown}
          onClick={() => showEdition(edition.name)}
        >
          {isShown ? t('Shown') : t('Show')}
        </Button>
      </header>
      <EditionSkyline
        of={of}
        view={view}
        playing={now ? new Set([now.after.id, ...(now.before ? [now.before.id] : [])]) : null}
      />
    </section>
  );
}

/** The total length; of several parts each one’s, and how far apart the two sides of a record are. */
function Lengths({ of: { parts } }: { readonly of: LaidOutEdition }) {
  const total = parts.reduce((sum, part) => sum + endOf(part), 0);
  const [a, b] = parts;
  const apart =
    parts.length === 2 && a?.kind === 'side' && b?.kind === 'side' ? Math.abs(endOf(a) - endOf(b)) : null;
  return (
    <>
      <span className="figure">{clockText(ticks(total), 0)}</span>
      {parts.length > 1 && (
        <span className="text-secondary">
          {parts.map((part) => `${say(partName(part))} ${clockText(endOf(part), 0)}`).join(' · ')}
        </span>
      )}
      {apart !== null && (
        <span className="text-secondary">
          {t('sides {length} apart', { length: clockText(ticks(apart), 0) })}
        </span>
      )}
    </>
  );
}

/** A draft is adopted by an edition, or discarded; both can be undone. */
function DraftActions({ name, targets }: { readonly name: string; readonly targets: readonly string[] }) {
  const { editWhole, showEdition, undo } = useAlbum('editWhole', 'showEdition', 'undo');
  const { tell } = useNotices();
  const mayWork = useMay('work');
  if (!mayWork) return null;
  const undone = { label: t('Undo'), run: () => undo() };
  const adopt = (into: string): void => {
    editWhole(t('draft “{name}” adopted as “{into}”', { name, into }), (album) =>
      adoptDraft(album, name, into),
    );
    showEdition(into);
    tell(t('“{into}” has the order of “{name}” now.', { name, into }), undone);
  };
  const discard = (): void => {
    editWhole(t('draft “{name}” discarded', { name }), (album) => removeEdition(album, name));
    tell(t('Draft “{name}” discarded.', { name }), undone);
  };
  return (
    <>
      <Dropdown>
        <Dropdown.Toggle size="sm" variant="outline-primary" disabled={targets.length === 0}>
          {t('Adopt as')}
        </Dropdown.Toggle>
        <Dropdown.Menu>
          {targets.map((into) => (
            <Dropdown.Item key={into} as="button" onClick={() => adopt(into)}>
              {into}
            </Dropdown.Item>
          ))}
        </Dropdown.Menu>
      </Dropdown>
      <Button
        size="sm"
        variant="outline-primary"
        title={t('Rendered like any other edition from then on')}
        onClick={() =>
          editWhole(t('draft “{name}” made an edition', { name }), (album) => draftAsEdition(album, name))
        }
      >
        {t('Make an edition')}
      </Button>
      <Button size="sm" variant="outline-primary" onClick={discard}>
        {t('Discard')}
      </Button>
    </>
  );
}
