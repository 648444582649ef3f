import type { FaultKind } from './fault-kinds.ts'

/** Something that a rehearsal found, or that the declarations show. */
export interface CheckFinding {
  /**
   * `never-accepted`: an action or fact that no match took. `never-raised`: an event. `never-started`: a timer. `unused`: a
   * declared name that nothing uses. `never-read`: a cell that nobody sees and nothing read, or a setting. `never-amends`: an amendment that
   * changed nothing. `clash`: amendments that redirect to different seats. `idle-timer`: a timer that looks often and does
   * little. `slow`: an input that takes long. `no-way-out`: a match stood still for good. `never-over`: no match came to its
   * end. `fault`: code that has thrown.
   */
  readonly kind:
    | 'never-accepted'
    | 'never-raised'
    | 'never-started'
    | 'unused'
    | 'never-read'
    | 'never-amends'
    | 'clash'
    | 'idle-timer'
    | 'slow'
    | 'no-way-out'
    | 'never-over'
    | 'fault'
  /** What it is about, such as `stall.sell`; the handler of a fault. */
  readonly name: string
  /** What was found, with figures. */
  readonly says: string
  /** What to do. */
  readonly fix: string
  /** The fault, if it is one. */
  readonly fault?: FaultKind
}
