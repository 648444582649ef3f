import { type AuditAsked, type AuditedRecord, type Crowd, randomCrowd } from 'zinc-referee/testing'
import { CommandError } from '../errors.ts'
import { expansionsOf } from '../modes/expansions.ts'
import { type LoadedMode, loadMode } from '../modes/load-mode.ts'
import { openRecord } from '../modes/open-record.ts'
import { seatsOf } from '../play/play-demo.ts'

export interface SightcheckOptions {
  readonly rulebook?: string
  readonly seed?: string
  readonly seats?: number
  readonly with?: readonly string[]
  /** Settings by rule. */
  readonly settings?: object
  readonly checks?: number
  readonly steps?: number
  readonly seconds?: number
  readonly workers?: number
  readonly strict?: boolean
  readonly json?: boolean
}

/** A match to audit, and its source for the output: a record, or the seed and seats it is played with. */
export interface Asked {
  readonly mode: LoadedMode
  readonly source: { readonly [what: string]: string | number }
  readonly asked: AuditAsked | AuditedRecord
}

/** No example has such a name. */
const IS_FILE = /[./\\]/

/** Returns the match that the arguments name: one to play, or a record. */
export async function askedOf(name: string | undefined, options: SightcheckOptions): Promise<Asked> {
  const { mode, source, asked } = await (name !== undefined && IS_FILE.test(name)
    ? ofRecord(name, options)
    : ofMode(name, options))
  const { checks, steps } = options
  return {
    mode,
    source,
    asked: { ...asked, ...(checks !== undefined && { checks }), ...(steps !== undefined && { steps }) },
  }
}

async function ofMode(name: string | undefined, options: SightcheckOptions): Promise<Asked> {
  const mode = await loadMode(name, options.rulebook)
  const seed = options.seed ?? mode.demo.seed ?? 'fair-1'
  const seats = seatsOf(mode, options.seats).map(({ id }) => id)
  const crowd = (): Crowd => mode.demo.crowd?.(seed) ?? randomCrowd(seed)
  const taken =
    options.with === undefined ? mode.rulebook.optional : expansionsOf(mode.rulebook, options.with)
  const { settings = {} } = options
  return {
    mode,
    source: { seed, seats: seats.length, ...(taken.length > 0 && { with: taken.join(', ') }) },
    asked: { seed, seats, crowd, with: taken, settings },
  }
}

async function ofRecord(file: string, options: SightcheckOptions): Promise<Asked> {
  const { seed, seats, settings, with: taken } = options
  if (seed !== undefined || seats !== undefined)
    throw new CommandError(
      `'${file}' is a record: its seed and its seats are what they were. Leave --seed and --seats out.`,
    )
  if (settings !== undefined || taken !== undefined)
    throw new CommandError(
      `'${file}' is a record: its settings and optional rules are what they were. Leave --settings and --with out.`,
    )
  const { content, mode } = await openRecord(file, options.rulebook)
  return { mode, source: { record: file, seed: content.header.seed }, asked: { record: content } }
}
