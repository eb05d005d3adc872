import type { Role } from '@oiseau/api';

/** Each role as people read it, and what it allows. */
export const ROLE_WORDS: Readonly<Record<Role, { readonly name: string; readonly does: string }>> = {
  engineer: { name: 'Engineer', does: 'does everything that you can do' },
  assistant: { name: 'Assistant', does: 'does everything but deleting and letting people in' },
  guest: { name: 'Guest', does: 'listens to what was rendered, and writes notes' },
};
