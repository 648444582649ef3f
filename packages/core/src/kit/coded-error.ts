/** An error with a code, and with the same name in every copy of the package. */
export class CodedError<C extends string, D> extends Error {
  /** What went wrong. Codes are stable across versions. */
  readonly code: C
  /** The values in the message. */
  readonly details: D

  constructor(code: C, message: string, details: D, cause?: unknown) {
    super(message, cause === undefined ? undefined : { cause })
    this.name = 'RefereeError'
    this.code = code
    this.details = details
  }

  /** Returns the code with the message. */
  override toString(): string {
    return `${this.code}: ${this.message}`
  }
}

/** What a page with nothing but a replica may throw: it does not load the messages of all the others. */
export const replicaMessages = {
  ZR_TIME_NOT_WHOLE: (d: { what: string; got: unknown }): string =>
    `${d.what} must be a whole number of milliseconds; it was ${String(d.got)}. Round it first.`,
  ZR_REPLICA_BAD_PATCH: (d: { path: string; why: string }): string =>
    `An update does not fit the view at '${d.path}': ${d.why}. Join again to get a whole view.`,
} as const

export const badPatch = (path: string, why: string): Error =>
  new CodedError('ZR_REPLICA_BAD_PATCH', replicaMessages.ZR_REPLICA_BAD_PATCH({ path, why }), { path, why })

/** @throws ZR_TIME_NOT_WHOLE */
export function assertWhole(what: string, got: unknown): void {
  if (Number.isSafeInteger(got)) return
  const details = { what, got }
  throw new CodedError('ZR_TIME_NOT_WHOLE', replicaMessages.ZR_TIME_NOT_WHOLE(details), details)
}
