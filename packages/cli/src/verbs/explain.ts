import { Command } from 'commander'
import { formatElapsed } from 'zinc-referee'
import { type Cause, explain, shortCauses } from 'zinc-referee/testing'
import { exit } from '../errors.ts'
import { named, openRecord } from '../modes/open-record.ts'
import { dim, print, printJson, strong } from '../print/output.ts'
import { exitWith, shared } from './options.ts'

/** zinc-referee explain */
export const verb: Command = new Command('explain')
  .argument('<record>')
  .argument('<question...>', 'what is asked about, such as: otter.health')
  .addOption(shared.rulebook)
  .option('--deep', 'all that led to it, with what each handler read')
  .addOption(shared.json)
  .addHelpText(
    'after',
    `
Questions; each may end with a time, as in: otter.health at 1:02
  otter.health                    a cell: who wrote it, and why
  line 214, otter's chase         an input: why it was accepted or refused
  respawn of otter, end of round 2, raft.found of heron
                                  an event, a timer or a rule: why it came, or not
  option raft.chase of otter      what a seat may do, or not
  otter sees heron.cargo          who sees a cell, or not
  verdict                         how the match ended`,
  )
  .action(exitWith(tell))

/** Says why something in a record is as it is, or did not happen. */
async function tell(
  file: string,
  words: readonly string[],
  options: { readonly rulebook?: string; readonly deep?: boolean; readonly json?: boolean },
): Promise<number> {
  const { content, book } = await openRecord(file, options.rulebook)
  const question = words.join(' ')
  const explanation = explain(book, content, question)
  if (options.json) {
    printJson({ record: file, asked: question, ...explanation })
    return exit.done
  }
  const brief = shortCauses(explanation)
  const causes = options.deep ? explanation.causes : brief
  const more = explanation.causes.length - causes.length
  print(
    strong(explanation.answer),
    ...(causes.length === 0 ? [] : [causes.map((cause) => lineOf(cause, options.deep === true)).join('\n')]),
    ...(more === 0
      ? []
      : [
          dim(
            `${more} more   npx zinc-referee explain ${file}${named(options.rulebook)} --deep ${JSON.stringify(question)}`,
          ),
        ]),
  )
  return exit.done
}

/** Where it is in the record, and what it is. A short answer leaves out the steps in between, and their depth. */
function lineOf({ at, line, depth, says }: Cause, isDeep: boolean): string {
  const where = depth > 0 ? '' : line === undefined ? formatElapsed(at) : `${formatElapsed(at)}  line ${line}`
  return `${dim(where.padEnd(17))} ${'  '.repeat(isDeep ? depth : Math.min(depth, 1))}${says}`
}
