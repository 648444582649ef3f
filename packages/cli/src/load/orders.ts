import type { Admissions } from '@zinc-referee/venue'

/** What the process under load is to run. */
export type Order =
  | {
      readonly kind: 'venue'
      readonly matches: number
      /** A folder for records; nothing if none are kept. */
      readonly records?: string | undefined
      readonly keys: Admissions['keys']
      readonly compress: boolean
    }
  | {
      readonly kind: 'bare'
      /** Characters of an answer, and of a message to everybody at a table. */
      readonly answer: number
      readonly notice: number
      /** Messages to everybody at a table, for each call. */
      readonly others: number
    }

/** What it reports: the port it listens on, and each half second its processor time (ms) and memory (bytes) so far. */
export type ServerReport =
  | { readonly kind: 'open'; readonly port: number }
  | { readonly kind: 'usage'; readonly cpu: number; readonly memory: number }
