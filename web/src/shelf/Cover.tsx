import { addressOf, CONTRACT } from '@oiseau/api';
/** An album's cover; without one, its title set on paper. */
export function Cover({
  artwork,
  title,
  className = '',
}: {
  artwork: string | null;
  title: string;
  className?: string;
}) {
  if (artwork)
    return (
      <img
        className={`cover ${className}`}
        src={addressOf(CONTRACT.picture, { params: { sha256: artwork } })}
        alt={`Cover of ${title || 'the album'}`}
      />
    );
  return (
    <div className={`cover cover-blank ${className}`} aria-hidden>
      <span>{title || 'Untitled album'}</span>
    </div>
  );
}
