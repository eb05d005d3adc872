import { audioFiles, planDeliverable } from '@oiseau/render';
import { isLossy } from '@oiseau/album/model';
import { partSound, type EncodersRoom as Question, type Overshoot } from '@oiseau/album/measured';
import { placedMoment } from '@oiseau/album/edits';
import type { Limiter } from '@oiseau/audio/stages';
import { CONTRACT } from '@oiseau/api';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Button } from 'react-bootstrap';
import { useAlbum } from '../album/AlbumContext.js';
import { STILL_WANTED_MS } from '../api/answers.js';
import { whileNotTold } from '../api/changes.js';
import { call } from '../api/client.js';
import { usePowers } from '../api/queries.js';
import { formatDb } from '../ui/format.js';
import { saySentence, t } from '../ui/messages.js';

const ASK_MS = 1000;

/** How far lossy files overshoot under the album's limiter, and the ceiling under which none comes over full scale. */
export function EncodersRoom({
  limiter,
  onCeiling,
}: {
  limiter: Limiter;
  onCeiling: (ceiling: number) => void;
}) {
  const { id } = useAlbum('id');
  const question = useQuestion(limiter);
  const [asked, setAsked] = useState<string | null>(null);
  const name = JSON.stringify(question);
  const { data, error } = useQuery({
    queryKey: ['room', id, name],
    enabled: question !== null && asked === name,
    queryFn: () => call(CONTRACT.encodersRoom, { params: { id }, body: question as Question }),
    refetchInterval: ({ state }) =>
      state.data?.figures || state.data?.job?.state === 'failed'
        ? false
        : whileNotTold(ASK_MS) || STILL_WANTED_MS,
  });
  if (!question) return null;
  const figures = data?.figures;
  const trouble = error?.message ?? (data?.job?.state === 'failed' ? saySentence(data.job) : null);
  return (
    <div className="room">
      {asked !== name && (
        <Button size="sm" variant="outline-primary" onClick={() => setAsked(name)}>
          {t('Ceiling for lossy files …')}
        </Button>
      )}
      {asked === name && !figures && !trouble && (
        <p className="text-secondary" role="status">
          {t('Encoding the loudest passages … {percent} %', {
            percent: Math.round(100 * (data?.job?.share ?? 0)),
          })}
        </p>
      )}
      {trouble && (
        <p className="text-danger" role="alert">
          {trouble}
        </p>
      )}
      {figures && asked === name && (
        <>
          <table className="table" aria-label={t('Headroom for lossy files')}>
            <thead>
              <tr>
                <th>{t('decoded, dBTP')}</th>
                <th className="num">{t('now')}</th>
                {figures.ceiling < limiter.ceiling && (
                  <th className="num">{t('at {level}', { level: formatDb(figures.ceiling) })}</th>
                )}
              </tr>
            </thead>
            <tbody>
              {figures.now.map((now, i) => (
                <tr key={now.name}>
                  <td title={now.name}>{now.name}</td>
                  <Peak of={now} />
                  {figures.ceiling < limiter.ceiling && <Peak of={figures.then[i]} />}
                </tr>
              ))}
            </tbody>
          </table>
          {figures.ceiling < limiter.ceiling ? (
            <Button size="sm" onClick={() => onCeiling(figures.ceiling)}>
              {t('Set ceiling to {level} dBTP', { level: formatDb(figures.ceiling) })}
            </Button>
          ) : (
            <p className="text-secondary">{t('All files stay below full scale.')}</p>
          )}
        </>
      )}
    </div>
  );
}

function Peak({ of }: { of: Overshoot | undefined }) {
  if (!of) return <td />;
  const by = of.after - of.before;
  return (
    <td
      className={of.after >= 0 ? 'num text-danger' : 'num'}
      title={t('{level} dB more than before encoding', { level: formatDb(by) })}
    >
      {formatDb(of.after)}
    </td>
  );
}

/** What is asked; null where nothing is coded with loss. */
function useQuestion(limiter: Limiter): Question | null {
  const { album, parts, part, masters, facts } = useAlbum('album', 'parts', 'part', 'masters', 'facts');
  const powers = usePowers(masters);
  const sound = partSound({ sequence: { ...part.sequence, sound: { ...album.sound, limiter } } });
  if (sound?.kind !== 'part') return null;
  const coded = album.deliverables.filter(isLossy).flatMap((deliverable): Question['coded'] => {
    const [file] = audioFiles(
      planDeliverable(deliverable, { album, parts, masters: facts, revision: 0, revisionDate: '' }),
    );
    if (!file || file.coding === 'raw') return [];
    const { coding, rate, bitrate, quality } = file;
    return [{ name: deliverable.name, coding, rate, bitrate, quality }];
  });
  const moments = part.sequence.songs.flatMap(
    (song) => placedMoment(song, part.placement, powers.get(song.region.master)) ?? [],
  );
  return coded.length > 0 && moments.length > 0
    ? { kind: 'room', part: sound, limiter, moments, coded }
    : null;
}
