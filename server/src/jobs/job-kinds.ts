/**
 * Every kind of job, and who does it. The lower a priority, the sooner a job of that kind is taken: measuring goes before rendering, since it is short and
 * a user waits for its figures.
 */
export const JOB_KINDS = {
  // FFmpeg does the work, in a process of its own: an import does not wait for a render.
  intake: { priority: 5, by: 'courier', attempts: 3 },
  measure: { priority: 10, by: 'worker', attempts: 3 },
  sound: { priority: 15, by: 'worker', attempts: 3 },
  render: { priority: 20, by: 'worker', attempts: 3 },
  verify: { priority: 30, by: 'worker', attempts: 3 },
  // Repeated attempts do no harm: they resume, and a delivery worker that dies again and again is not their fault.
  follow: { priority: 40, by: 'courier', attempts: 50 },
  handover: { priority: 50, by: 'courier', attempts: 50 },
} as const satisfies Readonly<
  Record<string, { readonly priority: number; readonly by: Role; readonly attempts: number }>
>;

/** Who does a job: workers compute, a courier waits for others and carries many things at once. */
export type Role = 'worker' | 'courier';

export type JobKind = keyof typeof JOB_KINDS;

/** Kinds of jobs of a role. */
export const kindsOf = (role: Role): JobKind[] =>
  (Object.keys(JOB_KINDS) as JobKind[]).filter((kind) => JOB_KINDS[kind].by === role);

/** How often a job may kill who is at it before it is given up. */
export const mostAttempts = (kind: string): number => (isJobKind(kind) ? JOB_KINDS[kind].attempts : 3);

export const isJobKind = (text: string): text is JobKind => Object.hasOwn(JOB_KINDS, text);
