import { Command, CommanderError } from 'commander'
import { CommandError, exit } from './errors.ts'

/** The verbs and their files. Only the file of the verb in use is loaded. */
const verbs: {
  readonly [name: string]: {
    readonly says: string
    readonly load: () => Promise<{ readonly verb: Command }>
  }
} = {
  demo: {
    says: 'play one whole match in virtual time and show it',
    load: () => import('./verbs/demo.ts'),
  },
  replay: {
    says: 'play a record again and compare rulings and hashes',
    load: () => import('./verbs/replay.ts'),
  },
  explain: {
    says: 'say why something in a record is as it is, or did not happen',
    load: () => import('./verbs/explain.ts'),
  },
  review: {
    says: 'serve a page that looks back at a record: what happened, what each seat saw, and why',
    load: () => import('./verbs/review.ts'),
  },
  diff: {
    says: 'play a record under two versions of its rulebook, and say where they part',
    load: () => import('./verbs/diff.ts'),
  },
  scenario: {
    says: 'play tests of a mode that are written as data, and say what did not come as expected',
    load: () => import('./verbs/scenario.ts'),
  },
  view: { says: 'show what one viewer saw at one moment', load: () => import('./verbs/view.ts') },
  sheet: {
    says: 'print the score sheet of a recorded match',
    load: () => import('./verbs/sheet.ts'),
  },
  serve: { says: 'host matches and the page to play them on', load: () => import('./verbs/serve.ts') },
  describe: {
    says: 'print the plan of a rulebook: rules, inputs, events, timers, who sees what',
    load: () => import('./verbs/describe.ts'),
  },
  sights: {
    says: 'print who sees what: state, notices, timers, options',
    load: () => import('./verbs/sights.ts'),
  },
  sightcheck: {
    says: 'check whether a viewer can infer something it must not see, in a played or recorded match',
    load: () => import('./verbs/sightcheck.ts'),
  },
  check: {
    says: 'rehearse matches of a rulebook, and say what never happened or went wrong',
    load: () => import('./verbs/check.ts'),
  },
  rehearse: {
    says: 'play many matches by bots, and say who won, how long they took, what was done',
    load: () => import('./verbs/rehearse.ts'),
  },
  erase: {
    says: "take a player's name and id out of a kept record, which still replays",
    load: () => import('./verbs/erase.ts'),
  },
  load: {
    says: 'play many regattas over sockets against a venue, and measure it',
    load: () => import('./verbs/load.ts'),
  },
  new: {
    says: 'write a mode and its test into a folder of that name',
    load: () => import('./verbs/new.ts'),
  },
}

/**
 * Runs the command with these arguments and returns the exit code: 0 done, 1 a finding, 2 wrong use or bad input, 3
 * an error of ours.
 */
export async function main(args: readonly string[]): Promise<number> {
  try {
    const command = await program(args[0])
    await command.parseAsync([...args], { from: 'user' })
    return Number(process.exitCode ?? exit.done)
  } catch (error) {
    if (error instanceof CommanderError) return error.exitCode === 0 ? exit.done : exit.badInput
    if (error instanceof CommandError) return complain(error.message, exit.badInput)
    const { isRefereeError } = await import('zinc-referee')
    if (isRefereeError(error)) return complain(error.toString(), exit.badInput)
    return complain(error instanceof Error ? (error.stack ?? error.message) : String(error), exit.fault)
  }
}

async function program(asked: string | undefined): Promise<Command> {
  const command = new Command('zinc-referee')
    .description('Plays, replays, inspects and serves matches of a rulebook.')
    .configureHelp({ subcommandTerm: (verb) => verb.name() })
    .helpCommand(false)
    .addHelpText(
      'after',
      '\nExit codes: 0 done, 1 a finding (hashes differ, a leak, a fault of the mode),\n2 wrong use or bad input, 3 an error of ours.',
    )
  for (const [name, { says, load }] of Object.entries(verbs))
    command.addCommand((name === asked ? (await load()).verb : new Command(name)).description(says))
  for (const each of [command, ...command.commands])
    each.exitOverride().showHelpAfterError('Run it with --help to see its options.')
  return command
}

function complain(message: string, code: number): number {
  process.stderr.write(`${message}\n`)
  return code
}
