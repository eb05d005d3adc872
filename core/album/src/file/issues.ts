import type * as z from 'zod';

/** `["tracks", 0, "fadeIn"]` → `tracks[0].fadeIn` */
function fieldName(path: readonly PropertyKey[]): string {
  return path
    .map((part, i) => (typeof part === 'number' ? `[${part}]` : `${i > 0 ? '.' : ''}${String(part)}`))
    .join('');
}

/** Maximum number of errors reported for a document. */
export const MOST_ISSUES = 100;
/** And so many unknown keys of one object. */
const MOST_KEYS = 20;

/** One sentence for each of the first hundred issues of a Zod error, each naming its field. */
export function describeIssues(error: z.ZodError): string[] {
  return error.issues.slice(0, MOST_ISSUES).map((issue) => {
    if (issue.code === 'unrecognized_keys') {
      const keys = issue.keys.slice(0, MOST_KEYS).map((key) => fieldName([...issue.path, key.slice(0, 100)]));
      const more = issue.keys.length - keys.length;
      return `${keys.join(', ')}${more > 0 ? ` and ${more} more` : ''}: unknown key.`;
    }
    return `${fieldName(issue.path) || 'The file'}: ${issue.message}`;
  });
}
