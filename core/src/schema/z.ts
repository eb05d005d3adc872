import { z } from 'zod';

// Schemas are interpreted, not compiled to code at run time: the page's content security policy forbids eval, and
// an album is small.
z.config({ jitless: true });

export { z };
