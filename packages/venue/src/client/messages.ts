import type { Latest, Notice, Operation } from 'zinc-referee/replica'
import type { Role } from '../roles.ts'
import type { Heard } from './line.ts'

/** The venue's answer to `join`: a whole view, or what an earlier connection has missed. */
export interface Joined<V, N extends Notice> {
  readonly view?: V
  readonly at: number
  readonly notices?: readonly N[]
  readonly missed?: readonly Heard[]
  readonly epoch: string
  readonly n: number
  readonly match: string
  readonly mode: string
  readonly seat: string | null
  readonly role: Role
  readonly player?: string
  /** The addresses of the other venues of a circuit. */
  readonly others?: readonly string[]
}
/** What the params of a message may hold: a patch, a whole view for a client that was too slow, or a notice. */
export interface Told<V, N extends Notice> {
  readonly n?: number
  readonly at: number
  readonly patch?: readonly Operation[]
  readonly latest?: Latest
  readonly view?: V
  readonly notices?: readonly N[]
  readonly done?: string | number
}
