import type { Seat } from '../cells/index.ts'
import type { Ruling } from '../rule/index.ts'
import type { ActionOptions, ReportOptions } from './input-tags.ts'

/** One input as it is recorded: parsed and cleaned, or raw where it could not be parsed. */
export interface Entry {
  readonly t: number
  readonly kind: 'submit' | 'report' | 'reportAll' | 'direct'
  readonly name: string
  readonly seat?: Seat | undefined
  readonly referee?: string | undefined
  readonly input: unknown
  /** The input as JSON text, where it has been made already. */
  readonly text?: string | undefined
  readonly how?: (ActionOptions & ReportOptions) | undefined
  readonly rulings: readonly Ruling[]
}
/** Gets every input, in order. */
export interface Journal {
  /** Before what it says counts. */
  input(entry: Entry): void
  /** All that follows from the input at its ms has happened. */
  settled(): void
  /** A timer has fired, and what it did is kept. */
  fired(): void
}
