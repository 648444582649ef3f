import { Command, CommanderError, InvalidArgumentError } from 'commander'
import { isRefereeError } from 'zinc-referee'
import { demo } from './demo.ts'
import { describe } from './describe.ts'
import { CommandError, exit } from './errors.ts'
import { namesIn } from './expansions.ts'
import { writeNew } from './new.ts'
import { replay } from './replay.ts'
import { serve } from './serve.ts'
import { sightcheck } from './sightcheck.ts'
import { sights } from './sights.ts'
import { view } from './view.ts'

/** Runs the command with its arguments and returns the exit code: 0 done, 1 a finding, 2 wrong use or bad input, 3 a fault of ours. */
export async function main(args: readonly string[]): Promise<number> {
  let code: number = exit.done
  const done = async (result: Promise<number>): Promise<void> => {
    code = await result
  }
  try {
    await program(done).parseAsync([...args], { from: 'user' })
    return code
  } catch (error) {
    if (error instanceof CommanderError) return error.exitCode === 0 ? exit.done : exit.badInput
    if (error instanceof CommandError) return complain(error.message, exit.badInput)
    if (isRefereeError(error)) return complain(error.toString(), exit.badInput)
    return complain(error instanceof Error ? (error.stack ?? error.message) : String(error), exit.fault)
  }
}

function program(done: (result: Promise<number>) => Promise<void>): Command {
  const command = new Command('zinc-referee')
    .description('Plays, replays, looks into and serves matches of a rulebook.')
    .helpCommand(false)
    .exitOverride()
    .showHelpAfterError('(--help tells how)')
    .addHelpText(
      'after',
      '\nExit codes: 0 done, 1 a finding (hashes differ, a leak, a fault of the mode), 2 wrong use or bad input, 3 a fault of ours.',
    )
  const rulebook = [
    '--rulebook <file>',
    "a .ts or .js file that exports a rulebook, instead of an example's name",
  ] as const

  const expansions = [
    '--with <rules>',
    "optional rules of the mode, by name with commas between, or 'all'",
    namesIn,
  ] as const

  command
    .command('demo')
    .argument('[mode]', 'an example', 'reed-regatta')
    .description('play one whole match in virtual time and show it')
    .option(...rulebook)
    .option('--seed <text>', 'another match')
    .option('--seats <number>', 'how many take part', whole)
    .option(...expansions)
    .option('--record <file>', 'where the record goes')
    .option('--all', 'the whole timeline')
    .option('--json', 'data instead of text')
    .action((mode, options) => done(demo(mode, options)))
  command
    .command('replay')
    .argument('<record>')
    .description('play a record again and compare rulings and hashes')
    .option(...rulebook)
    .option('--json', 'data instead of text')
    .action((record, options) => done(replay(record, options)))
  command
    .command('view')
    .argument('<record>')
    .description('show what one viewer saw at one moment')
    .requiredOption('--seat <id>', "a seat, 'spectator' or 'server'")
    .requiredOption('--at <time>', 'match time: 0:57, 57s or 57000ms')
    .option(...rulebook)
    .option('--json', 'data instead of text')
    .action((record, options) => done(view(record, options)))
  command
    .command('serve')
    .argument('[mode]', 'an example; default: all of them')
    .description('host matches and the page to play them on')
    .option(...rulebook)
    .option('--port <number>', 'where to listen; 0 takes a free one', whole, 4600)
    .option('--seed <text>', 'the seed of the matches')
    .option(...expansions)
    .option('--records <folder>', 'where records go', 'records')
    .option('--delay <seconds>', 'show it to spectators so much later', whole, 0)
    .option('--no-bots', 'leave empty seats empty')
    .action((mode, options) => done(serve(mode, options)))
  command
    .command('describe')
    .argument('[mode]', 'an example', 'reed-regatta')
    .description('print the plan of a rulebook: rules, inputs, events, timers, who sees what')
    .option(...rulebook)
    .option('--json', 'data instead of text')
    .action((mode, options) => done(describe(mode, options)))
  command
    .command('sights')
    .argument('[mode]', 'an example', 'reed-regatta')
    .description('print who sees what: state, notices, timers, options')
    .option(...rulebook)
    .option('--markdown', 'a table in Markdown')
    .option('--json', 'data instead of text')
    .action((mode, options) => done(sights(mode, options)))
  command
    .command('sightcheck')
    .argument('[mode]', 'an example, or the file of a record', 'reed-regatta')
    .description('check whether a viewer can infer something it must not see, in a played or recorded match')
    .option(...rulebook)
    .option('--seed <text>', 'another match')
    .option('--seats <number>', 'how many take part', whole)
    .option(...expansions)
    .option('--settings <json>', 'settings by rule, over those of the mode')
    .option('--checks <number>', 'at how many moments to look (24)', whole)
    .option('--steps <number>', 'how many steps twins go on at most (30)', whole)
    .option('--seconds <number>', 'stop after so long; the check is incomplete then', whole)
    .option('--workers <number>', 'how many run at once (one per core)', whole)
    .option('--strict', 'exit with 1 if the check is incomplete, too')
    .option('--json', 'data instead of text')
    .action((mode, options) => done(sightcheck(mode, options)))
  command
    .command('new')
    .argument('<name>')
    .description('write a mode and its test into a folder of that name')
    .option('--json', 'data instead of text')
    .action((name, options) => done(Promise.resolve(writeNew(name, options))))
  for (const each of command.commands) each.exitOverride().showHelpAfterError('(--help tells how)')
  return command
}

function whole(text: string): number {
  if (!/^\d+$/.test(text)) throw new InvalidArgumentError('It must be a whole number.')
  return Number(text)
}

function complain(message: string, code: number): number {
  process.stderr.write(`${message}\n`)
  return code
}
