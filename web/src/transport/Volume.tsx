import { Volume1, Volume2, VolumeX } from 'lucide-react';
import { useEffect } from 'react';
import { useStored } from '../ui/useStored.js';
import { usePlayer } from '../album/PlayerContext.js';
import { t } from '../ui/messages.js';

/** How loud this computer plays, in hundredths of the way; meters and renders know nothing of it. */
export function Volume() {
  const player = usePlayer();
  const [volume, setVolume] = useStored('oiseau-volume', 100);
  useEffect(() => {
    // The ear hears squares of it about evenly.
    player.setVolume((volume / 100) ** 2);
  }, [player, volume]);
  const Icon = volume === 0 ? VolumeX : volume < 60 ? Volume1 : Volume2;
  return (
    <label className="volume" title={t('Playback volume; renders aren’t affected')}>
      <Icon size={18} aria-hidden />
      <input
        type="range"
        aria-label={t('Volume')}
        min={0}
        max={100}
        value={volume}
        onChange={({ target }) => setVolume(Number(target.value))}
      />
    </label>
  );
}
