import { partName } from '@oiseau/album/model';
import { useAlbum } from '../album/AlbumContext.js';
import { usePlayer } from '../album/PlayerContext.js';
import { say, t } from '../ui/messages.js';

/** Which part is shown and heard; nothing where there is but one. What plays goes on with the start of the part that is chosen. */
export function PartChooser() {
  const { parts, part, showPart } = useAlbum('parts', 'part', 'showPart');
  const player = usePlayer();
  if (parts.length < 2) return null;
  const choose = (number: number): void => {
    if (number === part.number) return;
    showPart(number);
    if (player.state.playing) void player.play(0);
  };
  return (
    <div className="part-chooser" role="radiogroup" aria-label={t('Part')}>
      {parts.map((each) => (
        <button
          key={each.number}
          type="button"
          role="radio"
          aria-checked={each.number === part.number}
          title={each.title}
          onClick={() => choose(each.number)}
        >
          {say(partName(each))}
        </button>
      ))}
    </div>
  );
}
