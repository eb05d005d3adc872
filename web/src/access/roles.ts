import type { Role } from '@oiseau/api';
import { t } from '../ui/messages.js';

/** Each role as people read it, and what it allows. */
export const ROLE_WORDS: Readonly<Record<Role, { readonly name: string; readonly does: string }>> = {
  engineer: { name: t('Engineer'), does: t('can do everything you can do') },
  assistant: { name: t('Assistant'), does: t('can do everything except delete and give access') },
  guest: { name: t('Guest'), does: t('can listen to renders and add notes') },
};
