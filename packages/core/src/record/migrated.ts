import type { Engine } from '../engine/index.ts'
import { cellsApart } from '../rows/index.ts'
import { nameOf, type Snapshot } from './snapshot.ts'

/** The names in which a snapshot from an older version of a rulebook differs from this version. */
export interface Migrated {
  /** Cells, parts and settings that are new: they have their initial values. */
  readonly filled: readonly string[]
  /** Cells, parts, timers and settings that are gone, and steps that could have been taken back. */
  readonly dropped: readonly string[]
}

/** A snapshot as this version of the rulebook has it, and what that took. */
export function migratedFor(engine: Engine, old: Snapshot): { readonly snapshot: Snapshot } & Migrated {
  const { plan } = engine
  const parts = engine.parts.flat().map(({ plan: part, stored }) => ({ name: nameOf(part), stored }))
  const known = new Set(parts.map(({ name }) => name))
  const timers = new Set(plan.timers.map(({ whole }) => whole))
  const apart = parts.flatMap(({ name, stored }) => {
    const saved = old.parts[name]
    return saved === undefined ? [] : [{ name, ...cellsApart(stored.shape, saved) }]
  })
  const settings = settingsApart(engine, old.settings)
  const gone = old.time.timers.filter(({ timer }) => !timers.has(timer))
  const { past, notices: _, ...rest } = old // what was sent to whom is not known of other sights
  return {
    snapshot: {
      ...rest,
      settings: settings.kept,
      time: { ...old.time, timers: old.time.timers.filter(({ timer }) => timers.has(timer)) },
    },
    filled: [
      ...parts.flatMap(({ name }) => (name in old.parts ? [] : name)),
      ...apart.flatMap(({ name, filled }) => filled.map((cell) => `${name}.${cell}`)),
      ...settings.filled,
    ],
    dropped: [
      ...Object.keys(old.parts).filter((name) => !known.has(name)),
      ...apart.flatMap(({ name, dropped }) => dropped.map((cell) => `${name}.${cell}`)),
      ...new Set(gone.map(({ timer }) => `timer ${timer}`)),
      ...settings.dropped,
      ...(past === undefined ? [] : ['steps that could be taken back']),
    ],
  }
}

/** Settings of rules that still exist. Those that are new get their defaults. */
function settingsApart(
  { plan, settings: now }: Engine,
  old: Snapshot['settings'],
): Migrated & { readonly kept: Snapshot['settings'] } {
  const kept: Record<string, unknown> = {}
  const [filled, dropped]: [string[], string[]] = [[], []]
  for (const { name } of plan.rules) {
    const own = Object(now[name]) as { readonly [setting: string]: unknown }
    const before = Object(old[name]) as { readonly [setting: string]: unknown }
    kept[name] = Object.fromEntries(Object.entries(own).map(([key, value]) => [key, before[key] ?? value]))
    filled.push(...Object.keys(own).flatMap((key) => (key in before ? [] : `setting ${name}.${key}`)))
    dropped.push(...Object.keys(before).flatMap((key) => (key in own ? [] : `setting ${name}.${key}`)))
  }
  for (const name of Object.keys(old)) if (!(name in kept)) dropped.push(`settings of ${name}`)
  return { kept, filled, dropped }
}
