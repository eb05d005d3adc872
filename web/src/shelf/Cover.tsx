import { addressOf, CONTRACT } from '@oiseau/api';
import { t } from '../ui/messages.js';
/** An album's cover; without one, its title set on paper. */
export function Cover({
  artwork,
  title,
  className = '',
  whole = false,
}: {
  artwork: string | null;
  title: string;
  className?: string;
  /** In full size, and not as a small copy. */
  whole?: boolean;
}) {
  if (artwork)
    return (
      <img
        className={`cover ${className}`}
        loading="lazy"
        src={addressOf(CONTRACT.picture, {
          params: { sha256: artwork },
          query: whole ? {} : { pixels: 400 },
        })}
        alt={t('Cover of {title}', { title: title || t('the album') })}
      />
    );
  return (
    <div className={`cover cover-blank ${className}`} aria-hidden>
      <span>{title || t('Untitled album')}</span>
    </div>
  );
}
