/** A side of roles; see `camp` of the rule that `rolesOf` makes. */
export interface Camp {
  /** Its name. */
  readonly camp: string
}
