import * as z from 'zod';

/** Permissions: listen and view, add notes, edit and render, delete, manage access. */
export type Right = 'listen' | 'note' | 'work' | 'delete' | 'keys';

/** What each role may do. */
const RIGHTS = {
  engineer: ['listen', 'note', 'work', 'delete', 'keys'],
  assistant: ['listen', 'note', 'work'],
  guest: ['listen', 'note'],
} as const satisfies Readonly<Record<string, readonly Right[]>>;

export type Role = keyof typeof RIGHTS;
export const ROLES = Object.keys(RIGHTS) as readonly Role[];
export const role = z.enum(['engineer', 'assistant', 'guest']);

export const mayDo = (of: Role, right: Right): boolean => (RIGHTS[of] as readonly Right[]).includes(right);
