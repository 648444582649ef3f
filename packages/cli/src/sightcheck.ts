import { gone } from 'zinc-referee'
import { auditSight, type Crowd, randomCrowd, type SightAudit } from 'zinc-referee/testing'
import { loadMode } from './load-mode.ts'
import { columns, dim, print, printJson, strong } from './paper.ts'
import { seatsOf } from './play-demo.ts'
import { openRecord } from './records.ts'
import { exit, Trouble } from './trouble.ts'

export interface SightcheckOptions {
  readonly rulebook?: string
  readonly seed?: string
  readonly seats?: number
  readonly checks?: number
  readonly json?: boolean
}

/** No example has such a name. */
const IS_FILE = /[./\\]/

/** Plays a match, or takes one that was recorded, and looks whether anybody can tell what it may not see. */
export async function sightcheck(name: string | undefined, options: SightcheckOptions): Promise<number> {
  const { mode, told, asked } = await (name !== undefined && IS_FILE.test(name)
    ? ofRecord(name, options)
    : ofMode(name, options))
  const audit = auditSight(mode.rulebook, {
    ...asked,
    ...(options.checks !== undefined && { checks: options.checks }),
  })
  if (options.json) printJson({ mode: mode.rulebook.name, ...told, ...audit })
  else
    print(
      `${[strong(mode.title), ...Object.entries(told).map(([what, value]) => `${what} ${value}`)].join('   ')}   ${audit.compared} pairs of matches compared`,
      ...blocks(audit),
    )
  return audit.leaks.length === 0 ? exit.done : exit.finding
}

async function ofMode(name: string | undefined, options: SightcheckOptions) {
  const mode = await loadMode(name, options.rulebook)
  const seed = options.seed ?? mode.demo.seed ?? 'fair-1'
  const seats = seatsOf(mode, options.seats).map(({ id }) => id)
  const crowd = (): Crowd => mode.demo.crowd?.(seed) ?? randomCrowd(seed)
  return {
    mode,
    told: { seed, seats: seats.length },
    asked: { seed, seats, crowd, with: mode.rulebook.optional },
  }
}

async function ofRecord(file: string, options: SightcheckOptions) {
  if (options.seed !== undefined || options.seats !== undefined)
    throw new Trouble(
      `'${file}' is a record: its seed and its seats are what they were. Leave --seed and --seats out.`,
    )
  const { content, mode } = await openRecord(file, options.rulebook)
  return { mode, told: { record: file, seed: content.header.seed }, asked: { record: content } }
}

function blocks({ leaks, disclosed, secrets, incomplete, faults }: SightAudit): string[] {
  return [
    columns(
      ['secret', 'varied', 'moments', 'steps'],
      Object.entries(secrets).map(([secret, { varied, moments, steps }]) => [
        secret,
        String(varied),
        String(moments),
        String(steps ?? ''),
      ]),
    ),
    ...(disclosed.length === 0
      ? []
      : [
          columns(
            ['revealed on purpose', 'by', 'to', 'times', 'why'],
            disclosed.map(({ secret, by, to, times, why }) => [
              secret,
              [by].flat().join(', '),
              to,
              String(Object.values(times).reduce((sum, count) => sum + count, 0)),
              why,
            ]),
          ),
        ]),
    leaks.length === 0
      ? `${dim('leaks')}   none`
      : columns(
          ['leak', 'of', 'to', 'at', 'where', 'after'],
          leaks.map(({ by, secret, viewer, at, path, inputs }) => [
            by,
            secret,
            viewer,
            gone(at),
            path,
            inputs.join(', '),
          ]),
        ),
    ...(incomplete.length === 0 ? [] : [`${strong('incomplete')}\n${incomplete.join('\n')}`]),
    ...(faults.length === 0 ? [] : [`${strong('faults')}\n${faults.join('\n')}`]),
  ]
}
