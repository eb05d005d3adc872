import { tracksOf } from '@oiseau/album/model';
import { useAlbum } from '../album/AlbumContext.js';
import { DraftField } from '../ui/DraftField.js';
import { readTracks, tracksText } from './track-list.js';
import { t } from '../ui/messages.js';

/** Which tracks get a file: all, or a list of numbers and ranges. */
export function TrackChoice({
  select,
  onChange,
}: {
  select: readonly number[] | null;
  onChange: (select: number[] | null) => void;
}) {
  const { album } = useAlbum('album');
  const last = tracksOf(album).length;
  return (
    <label className="setting">
      <span>{t('Tracks')}</span>
      <DraftField
        label={t('Tracks to render')}
        className="form-control-sm"
        value={tracksText(select)}
        placeholder={t('all')}
        fault={(text) => {
          const read = readTracks(text, last);
          return typeof read === 'string' ? read : undefined;
        }}
        onCommit={(text) => {
          const read = readTracks(text, last);
          if (typeof read !== 'string') onChange(read);
        }}
      />
    </label>
  );
}
