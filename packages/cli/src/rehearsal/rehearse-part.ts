import { type RehearsalPart, rehearsePart } from 'zinc-referee/testing'
import { expansionsOf } from '../modes/expansions.ts'
import { loadMode } from '../modes/load-mode.ts'
import type { RunPart } from '../parallel/workers.ts'
import { seatsOf } from '../play/play-demo.ts'

/** What is rehearsed: a mode by its name or its file, by whom, how. */
export interface RehearseOptions {
  readonly rulebook?: string
  readonly random?: boolean
  readonly settings?: object
  readonly with?: readonly string[]
  readonly seats?: number
  readonly seed?: string
}
/** Some of the matches of a rehearsal, by their numbers. */
export interface RehearseTask {
  readonly name: string | undefined
  readonly options: RehearseOptions
  readonly from: number
  readonly to: number
  /** No match begins after this time, in ms since 1970; nothing: all are played. */
  readonly latest?: number
}

/** Rehearses some of the matches. */
export const runPart: RunPart<RehearseTask, RehearsalPart> = async (
  { name, options, from, to, latest = Number.POSITIVE_INFINITY },
  tell,
) => {
  const mode = await loadMode(name, options.rulebook)
  const { rulebook, demo } = mode
  const { crowd } = demo
  return rehearsePart(
    rulebook,
    {
      seats: seatsOf(mode, options.seats).map(({ id }) => id),
      with: expansionsOf(rulebook, options.with),
      settings: options.settings ?? {},
      seed: options.seed ?? demo.seed ?? 'fair-1',
      ...(crowd !== undefined && !options.random && { crowd: (seed) => crowd(seed) }),
    },
    {
      from,
      to,
      goOn(done) {
        tell(done, to - from)
        return Date.now() < latest
      },
    },
  )
}
