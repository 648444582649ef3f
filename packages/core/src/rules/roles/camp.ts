/** A side of roles. See `camp` of the rule that `rolesOf` makes. */
export interface Camp {
  /** Its name. */
  readonly camp: string
}
