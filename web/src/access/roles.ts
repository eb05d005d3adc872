import type { Role } from '@oiseau/api';

/** Each role as people read it, and what it allows. */
export const ROLE_WORDS: Readonly<Record<Role, { readonly name: string; readonly does: string }>> = {
  engineer: { name: 'Engineer', does: 'can do everything you can do' },
  assistant: { name: 'Assistant', does: 'can do everything except delete and give access' },
  guest: { name: 'Guest', does: 'can listen to renders and add notes' },
};
