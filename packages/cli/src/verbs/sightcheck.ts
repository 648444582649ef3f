import { availableParallelism } from 'node:os'
import { Command } from 'commander'
import { formatElapsed } from 'zinc-referee'
import { joinAudits, type SightAudit } from 'zinc-referee/testing'
import { askedOf, type SightcheckOptions } from '../audit/asked.ts'
import { runPart } from '../audit/audit-part.ts'
import { CommandError, exit } from '../errors.ts'
import { runInParallel } from '../parallel/workers.ts'
import { faultLines } from '../print/fault-lines.ts'
import { columns, dim, print, printJson, strong } from '../print/output.ts'
import { exitWith, shared, whole } from './options.ts'

/** zinc-referee sightcheck */
export const verb: Command = new Command('sightcheck')
  .argument('[mode]', 'an example, or the file of a record', 'reed-regatta')
  .addOption(shared.rulebook)
  .addOption(shared.seed)
  .addOption(shared.seats)
  .addOption(shared.with)
  .addOption(shared.settings)
  .option('--checks <number>', 'number of moments to look at (default: 24)', whole)
  .option('--steps <number>', 'maximum number of steps that twins are run on (default: 30)', whole)
  .option('--seconds <number>', 'stop after this many seconds; the check is incomplete then', whole)
  .option('--workers <number>', 'number of workers (default: one per core)', whole)
  .option('--strict', 'exit with 1 if the check is incomplete, too')
  .addOption(shared.json)
  .action(exitWith(sightcheck))

/** Checks whether a viewer can infer something that it must not see, in a played or recorded match. */
export async function sightcheck(name: string | undefined, options: SightcheckOptions): Promise<number> {
  const { mode, source } = await askedOf(name, options)
  const of = options.workers ?? availableParallelism()
  if (of < 1)
    throw new CommandError('There must be at least one worker. Leave --workers out for one per core.')
  const tasks = Array.from({ length: of }, (_, part) => ({ name, options, part, of }))
  const parts = await runInParallel(tasks, {
    module: new URL('../audit/audit-part.js', import.meta.url),
    runPart,
    doing: (done, all) => `comparing twins   ${done} of ${all} moments`,
  })
  const audit = joinAudits(parts)
  if (options.json) printJson({ mode: mode.rulebook.name, ...source, ...audit })
  else
    print(
      `${[strong(mode.title), ...Object.entries(source).map(([what, value]) => `${what} ${value}`)].join('   ')}   ${audit.compared} pairs of matches compared`,
      ...blocks(audit),
    )
  const isClean = audit.leaks.length === 0 && audit.faults.length === 0
  return isClean && (audit.incomplete.length === 0 || options.strict !== true) ? exit.done : exit.finding
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
    ...(disclosed.length === 0 ? [] : [revealed(disclosed)]),
    leaks.length === 0
      ? `${dim('leaks')}   none`
      : columns(
          ['leak', 'of', 'to', 'at', 'where', 'after'],
          leaks.map(({ by, secret, viewer, at, path, inputs }) => [
            by,
            secret,
            viewer,
            formatElapsed(at),
            path,
            inputs.slice(-3).join(', '),
          ]),
        ),
    ...(incomplete.length === 0 ? [] : [`${strong('incomplete')}\n${incomplete.join('\n')}`]),
    ...faultLines(faults),
  ]
}

/** What is revealed on purpose. A reason is too long for a column: it stands below the rows that share it. */
function revealed(disclosed: SightAudit['disclosed']): string {
  const [head = '', ...rows] = columns(
    ['revealed on purpose', 'to', 'times', 'by'],
    disclosed.map(({ secret, by, to, times }) => [
      secret,
      to,
      String(Object.values(times).reduce((sum, count) => sum + count, 0)),
      few([by].flat()),
    ]),
  ).split('\n')
  const below = (at: number): string[] => {
    const why = disclosed[at]?.why ?? ''
    return disclosed[at + 1]?.why === why ? [] : [dim(`   ${why}`)]
  }
  return [head, ...rows.flatMap((row, at) => [row, ...below(at)])].join('\n')
}

/** The first of many: a line is to fit a terminal, and `--json` has them all. */
const few = (ways: readonly string[]): string =>
  ways.length <= 3 ? ways.join(', ') : `${ways.slice(0, 2).join(', ')} and ${ways.length - 2} more`
