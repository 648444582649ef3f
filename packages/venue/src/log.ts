import { type Logger, pino } from 'pino'

/** Takes one line for each thing that an operator looks for, with `match` and `seat` as fields. Any pino logger is one. */
export type Log = Pick<Logger, 'info' | 'warn' | 'error'>

/** Warnings and errors, as JSON lines on stderr. */
export const usualLog = (): Log => pino({ level: 'warn' }, pino.destination({ dest: 2, sync: true }))

/** Returns where an error comes from. Its message stays out: code of a rulebook may put a secret into it. */
export function placeOf(error: unknown): { readonly error: string; readonly at: readonly string[] } {
  if (!(error instanceof Error)) return { error: typeof error, at: [] }
  const lines = (error.stack ?? '').split('\n').filter((line) => /^\s+at /.test(line))
  return { error: error.name, at: lines.slice(0, 6).map((line) => line.trim()) }
}
