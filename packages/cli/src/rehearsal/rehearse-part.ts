import { type RehearsalPart, type RehearsalRequest, rehearsePart, thinkingCrowd } from 'zinc-referee/testing'
import { expansionsOf } from '../modes/expansions.ts'
import { type LoadedMode, loadMode } from '../modes/load-mode.ts'
import type { RunPart } from '../parallel/workers.ts'
import { seatsOf } from '../play/play-demo.ts'

/** What is rehearsed: a mode by its name or its file, by whom, how. */
export interface RehearseOptions {
  readonly rulebook?: string | undefined
  readonly random?: boolean | undefined
  /** How many matches everyone tries out before each move. */
  readonly think?: number | undefined
  readonly settings?: object | undefined
  readonly with?: readonly string[] | undefined
  readonly seats?: number | undefined
  readonly seed?: string | undefined
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
  return rehearsePart(
    rulebook,
    {
      seats: seatsOf(mode, options.seats).map(({ id }) => id),
      with: expansionsOf(rulebook, options.with),
      settings: options.settings ?? {},
      seed: options.seed ?? demo.seed ?? 'fair-1',
      ...crowdOf(mode, options),
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

/** Who plays: whoever thinks, the mode's own bots, or anybody at random. */
function crowdOf(
  { rulebook, demo: { crowd } }: LoadedMode,
  { random, think }: RehearseOptions,
): Pick<RehearsalRequest, 'crowd'> {
  if (think !== undefined) return { crowd: (seed) => thinkingCrowd(rulebook, seed, { playouts: think }) }
  return crowd === undefined || random ? {} : { crowd: (seed) => crowd(seed) }
}
