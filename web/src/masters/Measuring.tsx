import { useQueryClient } from '@tanstack/react-query';
import { Button, ProgressBar } from 'react-bootstrap';
import { useAlbum } from '../album/AlbumContext.js';
import { call } from '../api/client.js';
import { mastersKey } from '../api/queries.js';
import { CONTRACT, type MasterRecord } from '@oiseau/api';
import { useNotices } from '../ui/Notices.js';
import { saySentence, t } from '../ui/messages.js';

/** How far the measuring of a master is, with the means to stop it and to take it up again. */
export function Measuring({ master: { sha256, name, job } }: { master: MasterRecord }) {
  const { id } = useAlbum('id');
  const queries = useQueryClient();
  const { complain } = useNotices();
  const ask = (what: 'measureMaster' | 'stopMeasuring'): void => {
    call(CONTRACT[what], { params: { sha256 } }).then(
      () => queries.invalidateQueries({ queryKey: mastersKey(id) }),
      complain,
    );
  };
  const underWay = job?.state === 'queued' || job?.state === 'running';
  if (!underWay) {
    return (
      <div className="measuring">
        {job?.state === 'failed' ? (
          <span className="text-danger">{saySentence(job)}</span>
        ) : (
          <small className="text-secondary">{t('not measured')}</small>
        )}{' '}
        <Button size="sm" variant="link" className="p-0" onClick={() => ask('measureMaster')}>
          {t('Measure')}
        </Button>
      </div>
    );
  }
  return (
    <div className="measuring">
      <ProgressBar now={100 * job.share} aria-label={t('Measuring {name}', { name })} />
      <small className="text-secondary">
        {job.state === 'running'
          ? t('measuring, {percent} %', { percent: Math.floor(100 * job.share) })
          : t('queued for measuring')}
      </small>{' '}
      <Button size="sm" variant="link" className="p-0" onClick={() => ask('stopMeasuring')}>
        {t('Stop')}
      </Button>
    </div>
  );
}
