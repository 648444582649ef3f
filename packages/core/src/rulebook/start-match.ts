import { bytesToHex } from '@noble/hashes/utils.js'
import { type Seed, seedKey } from '../chance/index.ts'
import { Engine, type Fault } from '../engine/index.ts'
import { Inbox } from '../inputs/index.ts'
import { RefereeError } from '../kit/index.ts'
import {
  type Header,
  loadSnapshot,
  type Migrated,
  migratedFor,
  Recorder,
  type Sink,
  type Snapshot,
} from '../record/index.ts'
import type { IdMaker } from '../rows/index.ts'
import { Viewing } from '../views/index.ts'
import type { AnyRulebook } from './define-rulebook.ts'
import { MatchHandle } from './match-handle.ts'
import type { AnyMatch } from './match-type.ts'

/** A match with its works. */
export interface OpenMatch {
  readonly match: AnyMatch
  readonly engine: Engine
  readonly inbox: Inbox
}
export interface Started extends OpenMatch {
  readonly recorder: Recorder | undefined
}

/**
 * Begins a match, or fills one from a snapshot, with its works. `settings` are those of the match over those of the
 * rulebook; `inForce` are all of them, as a record has them.
 */
export function start(
  book: AnyRulebook,
  given: {
    readonly seed: Seed
    readonly with?: readonly string[]
    readonly preset?: string
    readonly settings?: object
    readonly inForce?: Header['settings']
    readonly record?: Sink
    readonly onFault?: (fault: Fault) => void
    readonly from?: Snapshot
    /** Called if the snapshot is from an older version, with the differences. */
    readonly migrated?: (apart: Migrated) => void
    /** The snapshot was changed: its hash is not compared. */
    readonly changed?: boolean
    readonly ids?: IdMaker
    /** The class of its engine. Default: `Engine`. */
    readonly engine?: typeof Engine
  },
): Started {
  const taken = book.optional.filter((rule) => given.with?.includes(rule))
  const plan = book.planWith(given.with ?? [])
  const settings = settingsFor(book, given.preset, given.settings)
  const known = plan.rules.map(({ name }) => name)
  for (const rule of Object.keys(settings))
    if (!known.includes(rule)) throw new RefereeError('ZR_SETTING_UNKNOWN_RULE', { rule, known })
  const engine = new (given.engine ?? Engine)(plan, seedKey(given.seed), settings, given)
  const inbox = new Inbox(engine)
  if (given.from !== undefined) {
    const { snapshot, ...apart } =
      given.migrated === undefined ? { snapshot: given.from } : migratedFor(engine, given.from)
    loadSnapshot(engine, inbox, snapshot, given.migrated === undefined && given.changed !== true)
    if ('filled' in apart) given.migrated?.(apart)
  }
  const viewing = new Viewing(engine, inbox)
  const recorder = given.record && new Recorder(engine, given.record)
  if (given.from === undefined) recorder?.begin(seedText(given.seed), taken)
  inbox.journal = recorder
  const match = new MatchHandle(engine, inbox, viewing, recorder, seedText(given.seed), taken)
  return { match, engine, inbox, recorder }
}

/** Returns the settings of a preset, overridden by those of the match. */
function settingsFor(
  { name, presets }: AnyRulebook,
  preset: string | undefined,
  own: object = {},
): { readonly [rule: string]: unknown } {
  if (preset === undefined) return { ...own }
  if (!Object.hasOwn(presets, preset))
    throw new RefereeError('ZR_RULEBOOK_UNKNOWN_PRESET', {
      rulebook: name,
      preset,
      known: Object.keys(presets),
    })
  const merged: Record<string, unknown> = { ...presets[preset] }
  for (const [rule, settings] of Object.entries(own)) merged[rule] = { ...Object(merged[rule]), ...settings }
  return merged
}

/** Marks bytes, so that they can't be mistaken for a text. */
const HEX = 'hex:'
const seedText = (seed: Seed): string => (typeof seed === 'string' ? seed : HEX + bytesToHex(seed))
export const seedFrom = (text: string): Seed =>
  text.startsWith(HEX)
    ? Uint8Array.from(text.slice(HEX.length).match(/../g) ?? [], (byte) => Number.parseInt(byte, 16))
    : text
