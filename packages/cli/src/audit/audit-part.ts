import { type AuditPart, auditPart } from 'zinc-referee/testing'
import type { RunPart } from '../parallel/workers.ts'
import { askedOf, type SightcheckOptions } from './asked.ts'

/** One part of an audit, out of how many. */
export interface PartTask {
  readonly name: string | undefined
  readonly options: SightcheckOptions
  readonly part: number
  readonly of: number
}

/** Runs one part of an audit. */
export const runPart: RunPart<PartTask, AuditPart> = async ({ name, options, part, of }, progress) => {
  const { seconds } = options
  const latest = seconds === undefined ? Number.POSITIVE_INFINITY : Date.now() + seconds * 1000
  const { mode, asked } = await askedOf(name, options)
  const goOn = (done: number, all: number): boolean => {
    progress(done, all)
    return Date.now() < latest
  }
  return auditPart(mode.rulebook, asked, { part, of, goOn })
}
