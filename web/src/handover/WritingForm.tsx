import { CONTRACT, driveFacts, type ReceiverRecord, type Writing } from '@oiseau/api';
import { useQueryClient } from '@tanstack/react-query';
import { Form } from 'react-bootstrap';
import { call } from '../api/client.js';
import { useNotices } from '../ui/Notices.js';
import { t } from '../ui/messages.js';

type About = Readonly<Record<string, unknown>> | null;

/** Copies that are written one after the other. */
const COPIES = Array.from({ length: 10 }, (_, i) => i + 1);

const factsOf = (about: About) => driveFacts.safeParse(about ?? {}).data ?? { speeds: [], medium: undefined };

/** What lies in a drive; into a stand-in a disc is put from here. */
export function DriveTray({ receiver, about }: { readonly receiver: ReceiverRecord; readonly about: About }) {
  const { medium } = factsOf(about);
  const queries = useQueryClient();
  const { complain } = useNotices();
  // Its line is there from the start: what stands below must not move under a hand.
  if (!medium)
    return (
      <span className="tray">
        {about ? t('The drive doesn’t report its disc.') : t('Reading the drive …')}
      </span>
    );
  const words =
    medium.kind === 'none'
      ? t('No disc loaded.')
      : medium.state === 'blank'
        ? t('Loaded: blank disc, {kind} min.', { kind: medium.kind })
        : medium.state === 'written'
          ? t('Loaded: written disc.')
          : t('Loaded: failed disc.');
  const put = (kind: 'none' | '74' | '80'): void => {
    call(CONTRACT.putMedium, { params: { id: receiver.id }, body: { kind } }).then(
      () => queries.invalidateQueries({ queryKey: ['receiver', receiver.id] }),
      complain,
    );
  };
  return (
    <span className="tray">
      {words}
      {receiver.standIn && (
        <>
          {' '}
          {t('Load')}{' '}
          {(['80', '74'] as const).map((kind) => (
            <button key={kind} type="button" className="link-button" onClick={() => put(kind)}>
              {t('blank disc {kind}', { kind })}
            </button>
          ))}
          {medium.kind !== 'none' && (
            <button type="button" className="link-button" onClick={() => put('none')}>
              {t('no disc')}
            </button>
          )}
        </>
      )}
    </span>
  );
}

/** How a disc is written: how fast, tried first or not, how many of them, and which of an album of several. */
export function WritingForm({
  writing,
  discs,
  about,
  onChange,
}: {
  readonly writing: Writing;
  /** Names of the parts that have a disc; none: the album is one. */
  readonly discs: readonly string[];
  readonly about: About;
  readonly onChange: (writing: Writing) => void;
}) {
  const { speeds } = factsOf(about);
  const all = speeds.includes(writing.speed) ? speeds : [...speeds, writing.speed].sort((a, b) => a - b);
  return (
    <span className="writing">
      {discs.length > 0 && (
        <Form.Select
          size="sm"
          aria-label={t('Disc')}
          value={writing.part ?? ''}
          onChange={({ target }) => onChange({ ...writing, part: target.value })}
        >
          {discs.map((name) => (
            <option key={name} value={name}>
              {t('disc {number}', { number: name.replace('disc-', '') })}
            </option>
          ))}
        </Form.Select>
      )}
      <Form.Select
        size="sm"
        aria-label={t('Speed')}
        value={writing.speed}
        onChange={({ target }) => onChange({ ...writing, speed: Number(target.value) })}
      >
        {all.map((speed) => (
          <option key={speed} value={speed}>
            {t('{speed}× speed', { speed })}
          </option>
        ))}
      </Form.Select>
      <Form.Select
        size="sm"
        aria-label={t('Copies')}
        value={writing.copies}
        onChange={({ target }) => onChange({ ...writing, copies: Number(target.value) })}
      >
        {COPIES.map((copies) => (
          <option key={copies} value={copies}>
            {t('{copies, plural, one {# copy} other {# copies}}', { copies })}
          </option>
        ))}
      </Form.Select>
      <Form.Check
        id={`test-${discs.length}`}
        label={t('Test write first')}
        checked={writing.test}
        onChange={({ target }) => onChange({ ...writing, test: target.checked })}
      />
    </span>
  );
}
