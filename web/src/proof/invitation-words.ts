import type { InvitationRecord } from '@oiseau/api';
import { formatWhen } from '../ui/format.js';

/** How an invitation stands, in a few words. */
export function invitationWords(
  { takenBackAt, endsAt, seenAt }: InvitationRecord,
  now: Date,
): { readonly words: string; readonly isOpen: boolean } {
  if (takenBackAt !== null) return { words: `revoked ${formatWhen(takenBackAt, now)}`, isOpen: false };
  if (new Date(endsAt) <= now) return { words: `expired ${formatWhen(endsAt, now)}`, isOpen: false };
  const seen = seenAt === null ? 'not opened yet' : `opened ${formatWhen(seenAt, now)}`;
  return { words: `${seen}; valid until ${formatWhen(endsAt, now)}`, isOpen: true };
}
