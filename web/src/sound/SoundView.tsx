import { newBand } from './bands.js';
import { useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import { useAlbum } from '../album/AlbumContext.js';
import { Outlines } from '../sequence/Outlines.js';
import { useShortcuts } from '../ui/useShortcuts.js';
import { HearingBar } from './HearingBar.js';
import { SongColumn } from './SongColumn.js';
import { SongOverview } from './SongOverview.js';
import { SpectrumPane } from './SpectrumPane.js';
import { StagePane } from './StagePane.js';
import { TreatmentBar } from './TreatmentBar.js';
import { useHearing } from './useHearing.js';
import { useSoundDesk } from './useSoundDesk.js';
import { rich, t } from '../ui/messages.js';

/** What is done to the sound of a song and of the album, heard against what came in. */
export function SoundView() {
  const { id, part, masters } = useAlbum('id', 'part', 'masters');
  if (part.songs.length === 0)
    return (
      <div className="empty">
        <p className="empty-lead">{t('No tracks yet.')}</p>
        <p>
          {rich(
            'Add finished masters in <link>Masters</link>; here you treat each one and compare it with the original.',
            { link: <Link to={`/albums/${id}/masters`} /> },
          )}
        </p>
      </div>
    );
  return <Outlines masters={masters}>{DESK}</Outlines>;
}

const DESK = <Desk />;
/** What stands for the album in an address. */
const ALBUM = 'album';

function Desk() {
  const { part } = useAlbum('part');
  const [search, setSearch] = useSearchParams();
  const asked = search.get('song');
  const ids = part.sequence.songs.map(({ id }) => id);
  const target = asked === ALBUM ? null : asked !== null && ids.includes(asked) ? asked : (ids[0] ?? null);
  const choose = (id: string | null): void => setSearch({ song: id ?? ALBUM }, { replace: true });
  const desk = useSoundDesk(target);
  const hearing = useHearing(desk);
  const [band, setBand] = useState<number | null>(null);
  const step = (by: number): void => {
    const all = [...ids, null];
    choose(all[Math.max(0, Math.min(all.length - 1, all.indexOf(target) + by))] ?? null);
  };
  const addBand = (): void => {
    setBand(desk.treatment.equaliser.length);
    desk.change((before) => ({ ...before, equaliser: [...before.equaliser, newBand()].slice(0, 12) }));
  };
  useShortcuts(
    {
      C: hearing.swap,
      L: hearing.walk,
      M: hearing.loop,
      N: () => step(1),
      P: () => step(-1),
      B: addBand,
      X: () => hearing.hearBlind('X'),
      Y: () => hearing.hearBlind('Y'),
    },
    true,
  );
  return (
    <div className="sound">
      <SongColumn desk={desk} onChoose={choose} onPlay={hearing.play} />
      <div className="sound-middle">
        <TreatmentBar desk={desk} />
        <SpectrumPane desk={desk} band={band} onBand={setBand} onAdd={addBand} />
        <SongOverview key={target} desk={desk} hearing={hearing} />
        <HearingBar hearing={hearing} />
      </div>
      <StagePane desk={desk} band={band} onBand={setBand} onAdd={addBand} />
    </div>
  );
}
