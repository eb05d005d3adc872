import { audioFiles, expectedSize, fileWords, planBytes, type Plan, type PlannedAudio } from '@oiseau/render';
import { samples, samplesToTicks } from '@oiseau/audio/time';
import { TriangleAlert } from 'lucide-react';
import { clockText, formatBytes, formatRate } from '../ui/format.js';
import { say, t } from '../ui/messages.js';

/** How many files a plan writes, cue sheets and disc descriptions among them. */
export const fileCount = ({ files }: Plan): number => files.length;

/** What a plan's audio will take, and how sure that is. */
export function planSize(plan: Plan): { bytes: number; words: string } {
  const sizes = audioFiles(plan).map(expectedSize);
  const bytes = planBytes(plan);
  const size = formatBytes(bytes);
  const words = sizes.some(({ how }) => how === 'at most')
    ? t('at most {size}', { size })
    : sizes.some(({ how }) => how === 'about')
      ? t('about {size}', { size })
      : size;
  return { bytes, words };
}

/** Every file that a deliverable will write, before anything is written. */
export function PlanFiles({ plan }: { plan: Plan }) {
  const seen = new Set<string>();
  return (
    <table className="table plan-files" aria-label={t('Files of {name}', { name: plan.deliverable.name })}>
      <thead>
        <tr>
          <th>{t('File')}</th>
          <th className="num">{t('Sample rate')}</th>
          <th className="num">{t('Length')}</th>
          <th className="num">{t('Size')}</th>
        </tr>
      </thead>
      <tbody>
        {plan.files.map((file) => {
          const twice = seen.has(file.path.toLowerCase());
          seen.add(file.path.toLowerCase());
          return file.kind === 'audio' ? (
            <FileRow key={file.path} file={file} twice={twice} />
          ) : (
            <OtherFile key={file.path} path={file.path} what={say(fileWords(file))} />
          );
        })}
        <OtherFile path="proof.json" what={t('proof')} />
      </tbody>
    </table>
  );
}

function FileRow({ file, twice }: { file: PlannedAudio; twice: boolean }) {
  const { path, rate, length, silent } = file;
  const { bytes, how } = expectedSize(file);
  const fault = length === 0 ? t('empty') : silent ? t('silent') : twice ? t('duplicate name') : null;
  return (
    <tr className={fault ? 'doubtful' : ''}>
      <td className="file-name">
        {path}
        {fault && (
          <span className="plan-fault">
            <TriangleAlert size={14} aria-hidden /> {fault}
          </span>
        )}
      </td>
      <td className="num">{formatRate(rate)}</td>
      <td className="num">{clockText(samplesToTicks(samples(length), rate), 1)}</td>
      <td className="num" title={how}>
        {how === 'at most' ? '≤ ' : how === 'about' ? '~ ' : ''}
        {formatBytes(bytes)}
      </td>
    </tr>
  );
}

function OtherFile({ path, what }: { path: string; what: string }) {
  return (
    <tr className="minor">
      <td className="file-name">{path}</td>
      <td colSpan={3}>{what}</td>
    </tr>
  );
}
