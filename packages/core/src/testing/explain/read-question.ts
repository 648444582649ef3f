import { timeFrom } from '../scenario/time-from.ts'
import { type Names, unknown } from './names.ts'
import type { AskedAt, Question } from './questions.ts'

/** Words that say nothing about what is asked. */
const FILLERS = new Set(
  'a an the of for why did do does not no is was has have never didn’t isn’t so'.split(' '),
)
/** What events and timers are called by those who ask. */
const MEANT: { readonly [word: string]: readonly string[] } = {
  end: ['end', 'ended', 'over', 'closed'],
  begin: ['begin', 'began', 'begun', 'opened'],
  start: ['start', 'started', 'began', 'begun', 'live-began'],
  death: ['down'],
}

/**
 * Reads a question from a text, such as `otter.health`, `otter.health at line 40`, `line 214`, `otter's chase at 1:02`, `respawn of otter`, `end of round 2`,
 * `option stones.lay of otter`, `otter sees heron.cargo`, `verdict`.
 * @throws ZR_QUESTION_UNKNOWN, with what there is
 */
export function readQuestion(text: string, names: Names): Question {
  const { rest, when } = withoutMoment(text.trim().replace(/\?$/, '').replaceAll('’', "'"))
  const [, line] = /^line (\d+)$/.exec(rest) ?? []
  if (line !== undefined) return { about: 'line', line: Number(line) }
  if (/^(the )?verdict$/.test(rest)) return verdict(names, when)
  const [, viewer, seen] =
    /^(?:why )?(?:does |can )?(\S+?)(?: does not| cannot)? sees? (.+)$/.exec(rest) ?? []
  if (viewer !== undefined && seen !== undefined)
    return {
      about: 'sight',
      viewer: ['spectator', 'server'].includes(viewer) ? viewer : names.seat(viewer),
      cell: seen,
      ...when,
    }
  const [, action, input, asker] = /^options? (\S+?)(?: (\{.*\}))? (?:of|for) (\S+)$/.exec(rest) ?? []
  if (action !== undefined && asker !== undefined)
    return {
      about: 'option',
      action: names.action(action).name,
      seat: names.seat(asker),
      ...(input !== undefined && { input: jsonOf(input) }),
      ...when,
    }
  const [, seat, own] = /^(\S+)'s (.+)$/.exec(rest) ?? []
  if (seat !== undefined && own !== undefined && names.actionNamed(own).length > 0)
    return { about: 'action', seat: names.seat(seat), action: names.action(own).name, ...when }
  const isWhole = [
    ...names.events.map(({ name }) => name),
    ...names.timers.map(({ whole }) => whole),
  ].includes(rest.split(' ')[0] ?? '')
  if (!isWhole && names.cells(cellWords(rest)).length > 0) return { about: 'cell', cell: rest, ...when }
  return happening(rest, names, when)
}

/** The words of a cell: `otter.health`, `otter's health`, `health of otter`. */
export const cellWords = (text: string): readonly string[] =>
  text
    .replace(/'s /g, ' ')
    .split(/[\s.]+/)
    .filter((word) => word !== '' && !FILLERS.has(word))

/** A text without the moment that it ends with: `at 1:02`, `at line 214`. */
function withoutMoment(text: string): { readonly rest: string; readonly when: AskedAt } {
  const [, rest = text, line, time = ''] = /^(.*?) at (?:line (\d+)|(\d[\d:.]*(?:ms|s)?))$/.exec(text) ?? []
  if (line !== undefined) return { rest, when: { line: Number(line) } }
  const at = timeFrom(time)
  return at === undefined ? { rest: text, when: {} } : { rest, when: { at } }
}

/** The match's end: the cell that says how it ended, or why it has not. */
function verdict(names: Names, when: AskedAt): Question {
  if (!names.rules.includes('verdict')) return names.nothing(['verdict'])
  const ended = names.cells(['verdict', 'end', 'kind'])
  const isOver = ended.some(({ row, cell }) => row.$kept(cell) !== undefined)
  return isOver
    ? { about: 'cell', cell: 'verdict.end.kind', ...when }
    : { about: 'happening', name: 'verdict.reached', ...when }
}

/** `respawn of otter`, `end of round 2`, `raft.found of heron`, `timer respawn.back of otter`. */
function happening(text: string, names: Names, when: AskedAt): Question {
  const words = cellWords(text).filter((word) => word !== 'timer' && word !== 'event')
  const number = words.find((word) => /^\d+$/.test(word))
  const rule = words.flatMap((word) => names.rules.find((each) => isForm(word, each)) ?? [])[0]
  const own = words.find((word) => namesOf(names, rule).some((name) => means(word, name)))
  const isNamed = (word: string): boolean =>
    word === number || word === own || (rule !== undefined && isForm(word, rule))
  const rest = words.filter((word) => !isNamed(word))
  if (rule === undefined && own === undefined) return names.nothing(words)
  if (rest.length > 1) return unknown(rest.join(' '), 'seat', names.seats)
  const found = own === undefined ? undefined : namesOf(names, rule).find((name) => means(own, name))
  return {
    about: 'happening',
    name: [rule ?? [], found ?? []].flat().join('.'),
    ...(rest[0] !== undefined && { of: rest[0] }),
    ...(number !== undefined && { n: Number(number) }),
    ...when,
  }
}

/** The events and timers of a rule, or of all, without its name. */
function namesOf({ events, timers }: Names, rule: string | undefined): readonly string[] {
  return [...events.map(({ name }) => name), ...timers.map(({ whole }) => whole)].flatMap((name) => {
    const [owner, own = ''] = name.split('.')
    return rule === undefined || owner === rule ? own : []
  })
}

const means = (word: string, name: string): boolean => word === name || (MEANT[word]?.includes(name) ?? false)

/** True for a name, and for its singular. */
const isForm = (word: string, name: string): boolean => word === name || `${word}s` === name

function jsonOf(text: string): object {
  try {
    return Object(JSON.parse(text))
  } catch {
    return unknown(text, 'input in JSON', ['{"x":1,"y":2}'])
  }
}
