import { gone } from 'zinc-referee'
import { auditSight, randomCrowd, type SightAudit } from 'zinc-referee/testing'
import { loadMode } from './load-mode.ts'
import { columns, dim, print, printJson, strong } from './paper.ts'
import { seatsOf } from './play-demo.ts'
import { exit } from './trouble.ts'

export interface SightcheckOptions {
  readonly rulebook?: string
  readonly seed?: string
  readonly seats?: number
  readonly checks?: number
  readonly json?: boolean
}

/** Plays a match and looks whether anybody can tell what it may not see. */
export async function sightcheck(name: string | undefined, options: SightcheckOptions): Promise<number> {
  const mode = await loadMode(name, options.rulebook)
  const seed = options.seed ?? mode.demo.seed ?? 'fair-1'
  const seats = seatsOf(mode, options.seats).map(({ id }) => id)
  const audit = auditSight(mode.rulebook, {
    seed,
    seats,
    crowd: () => mode.demo.crowd?.(seed) ?? randomCrowd(seed),
    with: mode.rulebook.optional,
    ...(options.checks !== undefined && { checks: options.checks }),
    ...(mode.demo.discloses && { discloses: mode.demo.discloses }),
  })
  if (options.json) printJson({ mode: mode.rulebook.name, seed, seats, ...audit })
  else
    print(
      `${strong(mode.title)}   seed ${seed}   ${seats.length} seats and a spectator   ${audit.compared} pairs of matches compared`,
      ...blocks(audit),
    )
  return audit.leaks.length === 0 ? exit.done : exit.finding
}

function blocks({ leaks, disclosed, varied }: SightAudit): string[] {
  return [
    columns(
      ['secret', 'varied'],
      Object.entries(varied).map(([secret, times]) => [secret, String(times)]),
    ),
    ...(disclosed.length === 0
      ? []
      : [
          columns(
            ['told on purpose', 'times', 'why'],
            disclosed.map(({ what, times, why }) => [what, String(times), why]),
          ),
        ]),
    leaks.length === 0
      ? `${dim('leaks')}   none`
      : columns(
          ['leak', 'of', 'to', 'at', 'where', 'input'],
          leaks.map(({ by, secret, viewer, at, path, input }) => [
            by,
            secret,
            viewer,
            gone(at),
            path,
            input ?? '',
          ]),
        ),
  ]
}
