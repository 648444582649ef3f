import { type RecordContent, readRecord } from '../../record/index.ts'
import { type AnyRulebook, type TracedMatch, traceRecord } from '../../rulebook/index.ts'
import { explainCell } from './cell.ts'
import type { Explanation } from './explanation.ts'
import { explainHappening, type Happening } from './happening.ts'
import { type CellNamed, Names, several, unknown } from './names.ts'
import { explainOption } from './option.ts'
import type { Question } from './questions.ts'
import { cellWords, readQuestion } from './read-question.ts'
import { explainRuling } from './ruling.ts'
import { cellText } from './says.ts'
import { explainSight } from './sight.ts'
import { Teller } from './teller.ts'

/**
 * Says why something in a recorded match is as it is, or did not happen: plays the record again, watches it, and finds the
 * causes. The question is data, or a text such as `otter.health`, `line 214`, `otter's chase at 1:02`, `respawn of otter`, `end
 * of round 2`, `option stones.lay of otter`, `otter sees heron.cargo` or `verdict`.
 * @throws ZR_QUESTION_UNKNOWN if it names something that is not there, with what is; and what `replayRecord` throws
 */
export function explain(
  book: AnyRulebook,
  record: string | RecordContent,
  question: Question | string,
): Explanation {
  const content = typeof record === 'string' ? readRecord(record) : record
  const whole = traceRecord(book, content)
  const asked = typeof question === 'string' ? readQuestion(question, new Names(whole)) : question
  const end = endOf(asked, whole)
  const played = end === undefined ? whole : traceRecord(book, content, end)
  const about = 'of' in asked ? asked.of : 'seat' in asked ? asked.seat : undefined
  return answer(asked, new Teller(played, about), new Names(played))
}

/** The moment that a question is about; nothing for the end of the record. */
function endOf(asked: Question, { inputs }: TracedMatch): Parameters<typeof traceRecord>[2] | undefined {
  if (asked.about === 'line' || asked.about === 'action') return { line: lineOf(asked, inputs) }
  const { at, line } = asked
  return at === undefined && line === undefined ? undefined : { at, line }
}

function answer(asked: Question, teller: Teller, names: Names): Explanation {
  switch (asked.about) {
    case 'cell':
      return explainCell(teller, theCell(asked.cell, names))
    case 'sight':
      return explainSight(teller, theCell(asked.cell, names), asked.viewer)
    case 'option':
      return explainOption(teller, names.action(asked.action), names.seat(asked.seat), asked.input)
    case 'happening':
      return explainHappening(teller, theHappening(asked, names))
    default:
      return explainRuling(teller, lineOf(asked, teller.played.inputs))
  }
}

/** The line of an input that a question is about. */
function lineOf(
  asked: Question & { readonly about: 'line' | 'action' },
  inputs: TracedMatch['inputs'],
): number {
  const numbers = [...inputs.keys()]
  if (asked.about === 'line')
    return inputs.has(asked.line)
      ? asked.line
      : unknown(String(asked.line), 'input at line', numbers.map(String))
  const { seat, action, at, line: last = Number.POSITIVE_INFINITY } = asked
  const own = [...inputs].filter(([, { line }]) => line.seat === seat && line.submit === action)
  // A time that is written as 1:02 means that second.
  const until = at === undefined ? Number.POSITIVE_INFINITY : at + (at % 1000 === 0 ? 1000 : 1)
  const found = own.findLast(([number, { line }]) => number <= last && line.t < until)
  if (found !== undefined) return found[0]
  return unknown(
    `${seat}'s ${action}`,
    'input',
    own.map(([number]) => `line ${number}`),
  )
}

/** @throws ZR_QUESTION_UNKNOWN for none, and for several */
function theCell(text: string, names: Names): CellNamed {
  const found = names.cells(cellWords(text))
  if (found.length === 1) return found[0] as CellNamed
  if (found.length === 0) return names.nothing(cellWords(text))
  return several(
    text,
    'cell',
    found.map(({ row, cell }) => cellText(row, cell)),
  )
}

/** What events are called that say that the thing has come which their rule is named after. */
const CAME = ['began', 'begun', 'given', 'opened']

/** The events and timers that a name means. @throws ZR_QUESTION_UNKNOWN */
function theHappening(asked: Question & { readonly about: 'happening' }, names: Names): Happening {
  const { name, of, n } = asked
  if (of !== undefined && !names.isKey(of)) return unknown(of, 'seat', names.seats)
  const fits = (whole: string): boolean => whole === name || whole.endsWith(`.${name}`)
  const given = { ...(of !== undefined && { of }), ...(n !== undefined && { n }) }
  const isRule = names.rules.includes(name)
  const own = (whole: string): boolean => whole.startsWith(`${name}.`)
  if (isRule) {
    const events = names.events.filter((event) => own(event.name))
    const timers = names.timers.filter(({ whole }) => own(whole))
    const both = events.filter((event) => timers.some(({ whole }) => whole === event.name))
    const came = events.filter((event) => CAME.includes(event.name.slice(name.length + 1)))
    const [best = events[0]] = [...both, ...came]
    return {
      ...given,
      events: best === undefined ? [] : [best],
      timers: timers.filter(({ whole }) => best === undefined || whole === best.name),
    }
  }
  const events = names.events.filter((event) => fits(event.name))
  const timers = names.timers.filter(({ whole }) => fits(whole))
  if (events.length + timers.length === 0)
    return unknown(name, 'event or timer', [
      ...names.events.map((event) => event.name),
      ...names.timers.map(({ whole }) => whole),
    ])
  const found = [...new Set([...events.map((event) => event.name), ...timers.map(({ whole }) => whole)])]
  if (found.length > 1) return several(name, 'event or timer', found)
  return { ...given, events, timers }
}
