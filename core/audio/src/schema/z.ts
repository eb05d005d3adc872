import { config } from 'zod';

// Schemas are interpreted, not compiled to code at run time: the page's content security policy forbids eval, and
// an album is small.
config({ jitless: true });

// Taken as `import * as z`: a bundle then holds what is used of it, and none of its many languages.
export * from 'zod';
