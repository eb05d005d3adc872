import {
  comparisonWords,
  formWords,
  kindWords,
  partOfPath,
  type ProofFile,
  type ProofTest,
} from '@oiseau/render';
import { samples, samplesToTicks } from '@oiseau/audio/time';
import { isDisc } from '@oiseau/album/layout';
import { partName } from '@oiseau/album/model';
import { CircleCheck, CircleX, Download, FileText, Printer } from 'lucide-react';
import { Fragment } from 'react';
import { Button, Form } from 'react-bootstrap';
import { Link, useSearchParams } from 'react-router';
import { DownloadLink } from '../api/DownloadLink.js';
import { useMay } from '../access/VisitorContext.js';
import { useAlbum } from '../album/AlbumContext.js';
import { useDeliveries } from '../api/queries.js';
import { addressOf, CONTRACT, type DeliveryRecord } from '@oiseau/api';
import { Answers } from './Answers.js';
import { NotesAlone } from './Notes.js';
import { ProofListening } from './ProofListening.js';
import { Revisions } from './Revisions.js';
import { clockText, formatBytes, formatDate, formatDb, formatWhen } from '../ui/format.js';
import { rich, say, t } from '../ui/messages.js';
import { usePaperLanguage } from '../ui/usePaperLanguage.js';

const TEST_NAMES: Record<ProofTest['id'], string> = {
  length: t('length'),
  rate: t('rate'),
  samplePeak: t('sample peak'),
  audio: t('every sample'),
  null: t('null test'),
  place: t('in its place'),
  tags: t('tags'),
  cover: t('cover'),
  marks: t('marks'),
  text: t('text'),
  codes: t('codes'),
  flags: t('flags'),
  checksums: t('checksums'),
};

/** What was rendered, read back and tested. */
export function ProofView() {
  const { id } = useAlbum('id');
  const known = useDeliveries(id).data;
  const deliveries = (known ?? []).filter(({ proof, state }) => proof && state === 'done');
  const works = useMay('work');
  const [search, setSearch] = useSearchParams();
  const chosen = deliveries.find((delivery) => delivery.id === search.get('delivery')) ?? deliveries[0];
  // Nothing is said before it is known.
  if (!known) return null;
  if (!chosen?.proof) return <NothingProved albumId={id} works={works} />;
  return (
    <div className="proof">
      <ProofHead
        chosen={chosen}
        deliveries={deliveries}
        works={works}
        onChoose={(delivery) => setSearch({ delivery })}
      />
      <p className="only-printed">{printedLine(chosen)}</p>
      <Verdict delivery={chosen} files={chosen.proof.files} />
      <Answers delivery={chosen} />
      {chosen.clearedAt === null ? (
        <ProofListening key={chosen.id} delivery={chosen} />
      ) : (
        <>
          <p className="text-secondary">
            {t('The files were deleted {when}. “Render again” in Render recreates them.', {
              when: formatWhen(chosen.clearedAt, new Date()),
            })}
          </p>
          <NotesAlone key={chosen.id} delivery={chosen} />
        </>
      )}
      <ProvedFiles delivery={chosen} files={chosen.proof.files} />
      <Revisions />
    </div>
  );
}

function NothingProved({ albumId, works }: { albumId: string; works: boolean }) {
  return (
    <div className="empty">
      <p className="empty-lead">{t('Nothing to verify yet.')}</p>
      {works ? (
        <p>
          {rich(
            'Every file rendered in <link>Render</link> is verified by reading back. The results appear here.',
            { link: <Link to={`/albums/${albumId}/render`} /> },
          )}
        </p>
      ) : (
        <p>{t('Rendered files can be played here.')}</p>
      )}
    </div>
  );
}

/** Which delivery is looked at, and its papers and files to save. */
function ProofHead({
  chosen,
  deliveries,
  works,
  onChoose,
}: {
  readonly chosen: DeliveryRecord;
  readonly deliveries: readonly DeliveryRecord[];
  readonly works: boolean;
  readonly onChoose: (id: string) => void;
}) {
  const { id, part, parts } = useAlbum('id', 'part', 'parts');
  const [language] = usePaperLanguage();
  return (
    <div className="view-head">
      <h2>{t('Proof')}</h2>
      <Form.Select
        className="proof-choice"
        aria-label={t('Delivery')}
        value={chosen.id}
        onChange={({ target }) => onChoose(target.value)}
      >
        {deliveries.map(({ id: deliveryId, revision, deliverable, createdAt }) => (
          <option key={deliveryId} value={deliveryId}>
            {t('revision {revision}, {name}, {createdAt}', {
              revision,
              name: deliverable.name,
              createdAt: formatWhen(createdAt, new Date()),
            })}
          </option>
        ))}
      </Form.Select>
      <span className="flex-grow-1" />
      <Button variant="outline-primary" onClick={() => window.print()}>
        <Printer size={16} aria-hidden /> {t('Print')}
      </Button>
      {works && parts.some(isDisc) && (
        <a
          className="btn btn-outline-primary"
          href={addressOf(CONTRACT.pqSheet, {
            params: { id },
            query: {
              ...{ revision: chosen.revision, language, edition: chosen.deliverable.edition },
              ...(isDisc(part) && { part: part.number }),
            },
          })}
          download
        >
          <FileText size={16} aria-hidden /> {t('PQ sheet')}
          {isDisc(part) && part.of > 1 && `, ${say(partName(part))}`}
        </a>
      )}
      {works && chosen.clearedAt === null && (
        <DownloadLink
          className="btn btn-outline-primary"
          href={addressOf(CONTRACT.deliveryZip, { params: chosen, query: {} })}
        >
          <Download size={16} aria-hidden /> {t('All files as ZIP')}
        </DownloadLink>
      )}
    </div>
  );
}

function ProvedFiles({ delivery, files }: { delivery: DeliveryRecord; files: readonly ProofFile[] }) {
  return (
    <table className="table proof-table">
      <thead>
        <tr>
          <th>{t('File')}</th>
          <th className="num">{t('Length')}</th>
          <th className="num">{t('Sample peak')}</th>
          <th className="num">{t('True peak')}</th>
          <th className="num">{t('Loudness')}</th>
          <th>{t('Verified by reading back')}</th>
          <th className="sum">{t('SHA-256')}</th>
          <th className="num">{t('Size')}</th>
        </tr>
      </thead>
      <tbody>
        {files.map((file, i) => {
          const part = partOfPath(file.path);
          const begins = part !== null && part !== partOfPath(files[i - 1]?.path ?? '');
          return (
            <Fragment key={file.path}>
              {begins && <PartRow part={part} delivery={delivery} />}
              <FileRow file={file} deliveryId={delivery.id} />
            </Fragment>
          );
        })}
      </tbody>
    </table>
  );
}

/** What was proved, for paper: “Revision 3, plant: Disc image for a plant (DDP), 16 bit, 44.1 kHz. Rendered 25 November 2026, 14:05, asked by Ada. Made by Oiseau 0.2.0 with FFmpeg 7.1. The same bytes as before.” */
function printedLine({ revision, deliverable, createdAt, askedBy, proof, compared }: DeliveryRecord): string {
  const what = t('Revision {revision}, {name}: {kind}, {form}.', {
    revision,
    name: deliverable.name,
    kind: kindWords(deliverable),
    form: formWords(deliverable),
  });
  const made = proof?.made;
  const when = formatDate(createdAt);
  const rendered = askedBy
    ? t('Rendered {when}, requested by {name}.', { when, name: askedBy })
    : t('Rendered {when}.', { when });
  const by =
    made &&
    (made.ffmpeg === null
      ? t('Rendered by Oiseau {oiseau}.', { oiseau: made.oiseau })
      : t('Rendered by Oiseau {oiseau} with FFmpeg {ffmpeg}.', { oiseau: made.oiseau, ffmpeg: made.ffmpeg }));
  const again = compared && say(comparisonWords(compared, made ?? null));
  return [what, rendered, by, again].filter(Boolean).join(' ');
}

function Verdict({ delivery, files }: { delivery: DeliveryRecord; files: readonly ProofFile[] }) {
  const tests = files.flatMap((file) => file.tests);
  const failed = tests.filter(({ passed }) => !passed).length;
  const Icon = failed === 0 ? CircleCheck : CircleX;
  return (
    <p className={failed === 0 ? 'verdict' : 'verdict failed'} role="status">
      <Icon size={22} aria-hidden />
      <strong>{failed === 0 ? t('Verified.') : t('Failed verification.')}</strong>{' '}
      {failed === 0
        ? t(
            '{count, plural, one {# file} other {# files}} of revision {revision} were read back; all {count2, plural, one {# test} other {# tests}} passed.',
            { count: files.length, revision: delivery.revision, count2: tests.length },
          )
        : t('{failed} of {count, plural, one {# test} other {# tests}} failed; see the files marked below.', {
            failed,
            count: tests.length,
          })}{' '}
      {delivery.compared && say(comparisonWords(delivery.compared, delivery.proof?.made ?? null))}
    </p>
  );
}

/** Where the files of a part begin, with a ZIP of them alone. */
function PartRow({ part, delivery: { id, clearedAt } }: { part: string; delivery: DeliveryRecord }) {
  const works = useMay('work');
  const [kind = '', label] = part.split('-');
  return (
    <tr className="proof-part">
      <th scope="rowgroup" colSpan={8}>
        {kind.charAt(0).toUpperCase() + kind.slice(1)} {label}
        {works && clearedAt === null && (
          <DownloadLink href={addressOf(CONTRACT.deliveryZip, { params: { id }, query: { part } })}>
            <Download size={14} aria-hidden /> {t('as ZIP')}
          </DownloadLink>
        )}
      </th>
    </tr>
  );
}

function FileRow({ file, deliveryId }: { file: ProofFile; deliveryId: string }) {
  const works = useMay('work');
  const { path, bytes, frames, rate, samplePeakDbfs, truePeakDbtp, integratedLufs, sha256, tests, cureDb } =
    file;
  return (
    <tr>
      <th scope="row">
        {works ? (
          <DownloadLink href={addressOf(CONTRACT.deliveryFile, { params: { id: deliveryId, path } })}>
            {path}
          </DownloadLink>
        ) : (
          path
        )}
        <div className="only-printed sum">{t('SHA-256 {sha256}', { sha256 })}</div>
      </th>
      <td
        className="num"
        title={frames === null ? undefined : t('{frames} samples at {rate} Hz', { frames, rate })}
      >
        {frames === null || rate === null ? '–' : clockText(samplesToTicks(samples(frames), rate), 2)}
      </td>
      <td className="num">
        {samplePeakDbfs === null ? '–' : t('{level} dBFS', { level: formatDb(samplePeakDbfs, 2) })}
      </td>
      <td className="num">
        {truePeakDbtp === null
          ? '–'
          : t('{level} dBTP', { level: formatDb(truePeakDbtp, 2, cureDb == null ? undefined : -1) })}
        {cureDb != null && (
          <div className="cure" title={t('The decoded peak is over −1 dBTP; players may clip it')}>
            {t('{level} dB of gain would avoid it', { level: formatDb(Math.floor(cureDb * 10) / 10) })}
          </div>
        )}
      </td>
      <td className="num">
        {integratedLufs === null ? '–' : t('{level} LUFS', { level: formatDb(integratedLufs) })}
      </td>
      <td>
        <ul className="test-list">
          {tests.map((test) => (
            <TestSign key={test.id} test={test} />
          ))}
        </ul>
      </td>
      <td className="sum" title={sha256}>
        {sha256.slice(0, 12)}…
      </td>
      <td className="num">{formatBytes(bytes)}</td>
    </tr>
  );
}

function TestSign({ test: { id, passed, found, wanted } }: { test: ProofTest }) {
  const Icon = passed ? CircleCheck : CircleX;
  return (
    <li
      className={passed ? '' : 'failed'}
      title={t('found {found}, expected {wanted}', {
        found: found ?? t('nothing'),
        wanted: wanted ?? t('nothing'),
      })}
    >
      <Icon size={14} aria-label={passed ? t('passed') : t('failed')} /> {TEST_NAMES[id]}
      {!passed &&
        ` ${t('({found} instead of {wanted})', { found: found ?? t('nothing'), wanted: wanted ?? t('nothing') })}`}
    </li>
  );
}
