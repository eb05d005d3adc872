import { differingTransitions } from '@oiseau/album/compare';
import { useMemo } from 'react';
import { Button, Form } from 'react-bootstrap';
import { ArrowLeftRight } from 'lucide-react';
import { useAlbum } from '../album/AlbumContext.js';
import { Outlines } from '../sequence/Outlines.js';
import { wholeView } from '../sequence/skyline.js';
import { useAddressed } from '../ui/addressed.js';
import { t } from '../ui/messages.js';
import { useShortcuts } from '../ui/useShortcuts.js';
import { DifferenceTable } from './DifferenceTable.js';
import { EditionRow } from './EditionRow.js';
import { TransitionList } from './TransitionList.js';
import { useLaidOutEditions } from './useLaidOutEditions.js';
import { useOrdersPlayback } from './useOrdersPlayback.js';

/** All editions on one scale, two running orders heard against each other, and everything in which editions differ. */
export function EditionsView() {
  return <Outlines masters={useAlbum('masters').masters}>{EDITIONS}</Outlines>;
}

function Editions() {
  const { edition } = useAlbum('edition');
  const editions = useLaidOutEditions();
  const names = editions.map((each) => each.edition.name);
  const [first, setFirst] = useAddressed('first', names[0] ?? null);
  const [second, setSecond] = useAddressed('second', names.find((name) => name !== first) ?? null);
  const [a, b] = [first, second].map((name) => editions.find((each) => each.edition.name === name));
  const orders = useMemo(
    () =>
      a && b && a !== b
        ? [
            { name: a.edition.name, transitions: differingTransitions(a.parts, b.parts) },
            { name: b.edition.name, transitions: differingTransitions(b.parts, a.parts) },
          ]
        : [],
    [a, b],
  );
  const playback = useOrdersPlayback(orders);
  useShortcuts({ O: playback.swap, Escape: playback.stop }, true);
  const view = useMemo(() => wholeView(editions.flatMap(({ parts }) => parts)), [editions]);
  if (editions.length < 2)
    return (
      <div className="empty">
        <p className="empty-lead">{t('One edition.')}</p>
        <p>{t('Add another one in the menu “Editions” of the header to compare both here.')}</p>
      </div>
    );
  const isPlaying = playback.place !== null;
  return (
    <div className="editions">
      <div className="view-head">
        <h2>{t('Editions')}</h2>
      </div>
      {editions.map((each) => (
        <EditionRow
          key={each.edition.name}
          of={each}
          view={view}
          isShown={each.edition.name === edition}
          targets={editions.filter(({ edition: { draft } }) => !draft).map((other) => other.edition.name)}
          playing={playback.place?.name === each.edition.name ? playback.place : null}
          transitions={orders.find(({ name }) => name === each.edition.name)?.transitions ?? []}
        />
      ))}
      <div className="view-head">
        <h3>{t('Transitions that differ')}</h3>
        <NameChoice label={t('First order')} names={names} value={first} onChange={setFirst} />
        <NameChoice label={t('Second order')} names={names} value={second} onChange={setSecond} />
        <span className="flex-grow-1" />
        <Button
          size="sm"
          variant={isPlaying ? 'primary' : 'outline-primary'}
          disabled={orders.length === 0}
          onClick={() => (isPlaying ? playback.stop() : playback.play(first ?? '', 0))}
        >
          {isPlaying ? t('Stop') : t('Play all that differ')}
        </Button>
        <Button
          size="sm"
          variant="outline-primary"
          title={t('Play the same place in the other order (O)')}
          disabled={orders.length === 0}
          onClick={playback.swap}
        >
          <ArrowLeftRight size={16} aria-hidden /> {t('Switch order')}
        </Button>
      </div>
      <div className="order-columns">
        {orders.map((order) => {
          const of = order.name === first ? a : b;
          return of && <TransitionList key={order.name} of={of} order={order} playback={playback} />;
        })}
      </div>
      <DifferenceTable editions={editions} />
    </div>
  );
}
const EDITIONS = <Editions />;

function NameChoice({
  label,
  names,
  value,
  onChange,
}: {
  readonly label: string;
  readonly names: readonly string[];
  readonly value: string | null;
  readonly onChange: (name: string) => void;
}) {
  return (
    <Form.Select
      size="sm"
      className="name-choice"
      aria-label={label}
      value={value ?? ''}
      onChange={({ target }) => onChange(target.value)}
    >
      {names.map((name) => (
        <option key={name}>{name}</option>
      ))}
    </Form.Select>
  );
}
