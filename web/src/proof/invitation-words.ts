import type { InvitationRecord } from '@oiseau/api';
import { formatWhen } from '../ui/format.js';
import { t } from '../ui/messages.js';

/** How an invitation stands, in a few words. */
export function invitationWords(
  { takenBackAt, endsAt, seenAt }: InvitationRecord,
  now: Date,
): { readonly words: string; readonly isOpen: boolean } {
  if (takenBackAt !== null)
    return {
      words: t('revoked {when}', { when: formatWhen(takenBackAt, now) }),
      isOpen: false,
    };
  if (new Date(endsAt) <= now)
    return { words: t('expired {when}', { when: formatWhen(endsAt, now) }), isOpen: false };
  const seen = seenAt === null ? t('not opened yet') : t('opened {when}', { when: formatWhen(seenAt, now) });
  return {
    words: t('{seen}; valid until {endsAt}', { seen, endsAt: formatWhen(endsAt, now) }),
    isOpen: true,
  };
}
