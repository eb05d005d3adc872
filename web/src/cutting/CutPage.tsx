import { Link } from 'react-router';
import { useAlbum } from '../album/AlbumContext.js';
import { useChosenMaster } from '../masters/useChosenMaster.js';
import { CutDesk } from './CutDesk.js';
import { t } from '../ui/messages.js';

/** One long recording, cut into tracks. */
export function CutPage() {
  const { id } = useAlbum('id');
  const master = useChosenMaster();
  if (master?.measurement)
    return <CutDesk key={master.sha256} master={master} measurement={master.measurement} />;
  return (
    <div className="empty">
      <p className="empty-lead">
        {master ? t('This master is still being measured.') : t('This album has no such master.')}
      </p>
      <Link to={`/albums/${id}/masters`}>{t('All masters')}</Link>
    </div>
  );
}
