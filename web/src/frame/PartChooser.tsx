import { partName } from '@oiseau/core';
import { useAlbum } from '../album/AlbumContext.js';

/** Which part is shown and heard; nothing where there is but one. */
export function PartChooser() {
  const { parts, part, showPart } = useAlbum('parts', 'part', 'showPart');
  if (parts.length < 2) return null;
  return (
    <div className="part-chooser" role="radiogroup" aria-label="Part">
      {parts.map((each) => (
        <button
          key={each.number}
          type="button"
          role="radio"
          aria-checked={each.number === part.number}
          title={each.title}
          onClick={() => showPart(each.number)}
        >
          {partName(each)}
        </button>
      ))}
    </div>
  );
}
