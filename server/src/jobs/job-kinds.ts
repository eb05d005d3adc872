/**
 * Every kind of job. The lower a priority, the sooner a job of that kind is taken: measuring goes before rendering, since it is short and
 * somebody waits for its figures.
 */
export const JOB_KINDS = {
  measure: { priority: 10 },
  sound: { priority: 15 },
  render: { priority: 20 },
  verify: { priority: 30 },
} as const satisfies Readonly<Record<string, { readonly priority: number }>>;

export type JobKind = keyof typeof JOB_KINDS;

export const isJobKind = (text: string): text is JobKind => Object.hasOwn(JOB_KINDS, text);
