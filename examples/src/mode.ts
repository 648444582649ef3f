import type { AnyRulebook } from 'zinc-referee'
import type { Demo } from 'zinc-referee/testing'

/** A mode of the Fenwick Fair: its rulebook and its demo. */
export interface Mode {
  readonly title: string
  readonly rulebook: AnyRulebook
  readonly demo: Demo
}
