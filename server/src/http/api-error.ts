/** A refusal with the sentence that the person gets to read, and the HTTP status that goes with it. */
export class ApiError extends Error {
  override readonly name = 'ApiError';
  constructor(
    readonly status: 400 | 404 | 409 | 410 | 413 | 415 | 422 | 507,
    message: string,
    /** Further facts for the interface, such as the newer version that stands in the way. */
    readonly details: Readonly<Record<string, unknown>> = {},
    options?: ErrorOptions,
  ) {
    super(message, options);
  }
}

export const notFound = (what: string): ApiError => new ApiError(404, `There is no such ${what}.`);
