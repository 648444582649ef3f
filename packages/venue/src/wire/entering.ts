import type { Seat } from 'zinc-referee'
import type { Role } from '../roles.ts'
import type { Seen } from './trail.ts'

/** Who enters a match, and how. */
export interface Entering {
  readonly player?: string
  readonly role: Role
  readonly seat?: Seat | undefined
  readonly by?: string
  readonly leads?: boolean
  readonly from?: Seen | undefined
  /** If false, it wants patches alone. */
  readonly latest?: boolean | undefined
}
