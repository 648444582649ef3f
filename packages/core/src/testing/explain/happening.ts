import type { Values } from '../../cells/index.ts'
import type { EventPlan, Handler, Plan, TimerPlan } from '../../plan/index.ts'
import { formatElapsed } from '../../time/index.ts'
import { type Deed, deedsOf, type Raised, type Ran, type StepTaken, stepOf } from '../../tracing/index.ts'
import type { Explanation } from './explanation.ts'
import type { Question } from './questions.ts'
import { timerText } from './says.ts'
import { isRefusal, isTimer, span, type Teller } from './teller.ts'

/** What a question about a happening is about: events and timers of these names, with what it says of whom. */
export interface Happening extends Pick<Question & { readonly about: 'happening' }, 'of' | 'n'> {
  readonly events: readonly EventPlan[]
  readonly timers: readonly TimerPlan[]
}

/** Why something happened, or why it has not. */
export function explainHappening(teller: Teller, happening: Happening): Explanation {
  const { events, timers, of } = happening
  const name = nameOf(happening)
  const last = raises(teller, happening).at(-1)
  const since = last && stepOf(last)
  const story = makingTimers(teller, happening)
    .map((timer) => timerStory(teller, timer, of, since))
    .find((each) => each !== undefined)
  const question = `Why did ${name} happen, or why not?`
  if (story !== undefined) return { question, ...again(story, name, since) }
  if (last !== undefined) {
    const times = raises(teller, happening).length
    const more = times > 1 ? `, for the last of ${times} times` : ''
    return {
      question,
      answer: `${name} happened at ${formatElapsed(stepOf(last).at)}${more}.`,
      causes: teller.causesOf(last),
    }
  }
  const fired = teller.steps.findLast(
    ({ timer }) => timers.some(({ whole }) => whole === timer?.name) && (of ?? timer?.key) === timer?.key,
  )
  if (fired !== undefined && events.length === 0)
    return {
      question,
      answer: `${name} happened at ${formatElapsed(fired.at)}, and does not run any more.`,
      causes: [...fired.did.flatMap((deed) => (deed.what === 'ran' ? teller.causesOf(deed) : []))],
    }
  return { question, ...never(teller, happening, name) }
}

type Told = Pick<Explanation, 'answer' | 'causes'>

/** Said of a match in which it happened before. */
const again = ({ answer, causes }: Told, name: string, since: StepTaken | undefined): Told => ({
  answer:
    since === undefined
      ? `${name} has not happened: ${answer}.`
      : `${name} has not happened again since ${formatElapsed(since.at)}: ${answer}.`,
  causes,
})

function nameOf({ events, timers, of, n }: Happening): string {
  const name = events[0]?.name ?? timers[0]?.whole ?? ''
  return `${name}${of === undefined ? '' : ` of ${of}`}${n === undefined ? '' : ` ${n}`}`
}

/** Each time that one of the events was raised, of whom it is asked about, in a step that was kept. */
function raises(teller: Teller, { events, of, n }: Happening): Raised[] {
  return teller.steps.flatMap((step) =>
    [...deedsOf(step)].filter((deed): deed is Raised => {
      if (deed.what !== 'raised' || !events.includes(deed.event) || !isKept(deed)) return false
      return (
        (of === undefined || isAbout(deed.cells, of)) &&
        (n === undefined || Object.values(deed.cells).includes(n))
      )
    }),
  )
}

/** True if an event is about this seat, or key: its `seat` or `target` if it has one, else anything in it. */
const isAbout = (cells: Values, of: string): boolean =>
  'seat' in cells || 'target' in cells
    ? (cells['seat'] ?? cells['target']) === of
    : Object.values(cells).includes(of)

/** False for what was taken back: with its step, or with a refused part of it. */
function isKept(deed: Deed): boolean {
  let at: Deed | StepTaken = deed
  for (; at.what !== 'step'; at = at.by)
    if ((at.what === 'ran' || at.what === 'resolved') && isRefusal(at.answer)) return false
  return at.ruling?.ok !== false
}

/** The timers that the question names, and those whose handlers raise such an event, by themselves or by what follows. */
function makingTimers(teller: Teller, happening: Happening): readonly TimerPlan[] {
  const { events, timers } = happening
  const makers = makersOf(teller, happening)
  const names = new Set(
    teller.steps.flatMap((step) =>
      step.timer !== undefined &&
      [...deedsOf(step)].some((deed) => deed.what === 'raised' && events.includes(deed.event))
        ? step.timer.name
        : [],
    ),
  )
  const { plan } = teller.played.engine
  const making = plan.timers.filter(
    ({ whole, fire }) => names.has(whole) || (fire !== undefined && makers.includes(fire.label)),
  )
  return [...new Set([...timers, ...making])]
}

/** What became of a timer since the event last happened; nothing if it was not touched since. */
function timerStory(
  teller: Teller,
  kind: TimerPlan,
  of: string | undefined,
  since: StepTaken | undefined,
): Told | undefined {
  const key = kind.keyedBy === 'seat' || kind.keyedBy === 'row' ? (of ?? '') : ''
  const timer = { name: kind.whole, key }
  const { time } = teller.played.engine
  const running = time.find(kind, key)
  const text = timerText(timer)
  if (running !== undefined) {
    const left = span(Math.max(0, running.due - time.read(kind.clock)))
    const start = teller.startOf(timer)
    const stop = time.runs(kind.clock) ? undefined : clockStop(teller, kind.clock)
    return {
      answer:
        stop === undefined
          ? `${text} is due in ${left} on the ${kind.clock} clock`
          : `${text} is due in ${left} on the ${kind.clock} clock, which stands still since ${formatElapsed(stepOf(stop).at)}`,
      causes: [
        ...(start === undefined ? [] : teller.causesOf(start)),
        ...(stop === undefined ? [] : teller.causesOf(stop)),
      ],
    }
  }
  const last = teller.moves(timer).at(-1)
  const fired = teller.steps.findLast((step) => step.timer?.name === kind.whole && step.timer.key === key)
  const isAfter = (step: StepTaken | undefined): step is StepTaken =>
    step !== undefined && step !== since && (since === undefined || step.at >= since.at)
  if (last?.what === 'stopped' && isAfter(stepOf(last)) && !(fired && fired.at > stepOf(last).at)) {
    const start = teller.startOf(timer, stepOf(last))
    return {
      answer: `${text} was stopped at ${formatElapsed(stepOf(last).at)}, ${span(last.due - last.reading)} before it was due`,
      causes: [...(start === undefined ? [] : teller.causesOf(start)), ...teller.causesOf(last)],
    }
  }
  if (!isAfter(fired)) return undefined
  if (fired.ruling?.ok === false && fired.error !== undefined)
    return {
      answer: `${text} was due at ${formatElapsed(fired.at)}, and its handler threw ${String(fired.error)}`,
      causes: [teller.stepCause(fired)],
    }
  return undefined
}

/** What let a clock stand still last. */
function clockStop(teller: Teller, clock: string): Deed | undefined {
  return teller.steps
    .flatMap((step) => [...deedsOf(step)])
    .findLast((deed) => deed.what === 'clock' && deed.clock === clock && !deed.runs && !deed.isUndone)
}

/** It has never happened. What makes it happen elsewhere, and what that did last. */
function never(teller: Teller, happening: Happening, name: string): Told {
  const makers = makersOf(teller, happening)
  const last = runsOf(teller, makers, happening.of).at(-1)
  if (last !== undefined) {
    const step = stepOf(last)
    const threw = last.hasThrown ? `, and threw ${String(step.error)}` : ''
    const answered = isRefusal(last.answer) ? `, and refused with ${last.answer.code}` : ''
    return {
      answer: `${name} has never happened. ${last.handler.label} could have made it so: it last ran at ${formatElapsed(step.at)}, and did not${threw}${answered}.`,
      causes: [...teller.causesOf(last), ...teller.reads(last, step.at, 2, false)],
    }
  }
  if (makers.length > 0) {
    const other = raises(teller, { events: happening.events, timers: [] }).at(-1)
    const lacking =
      other && teller.eventsBefore(other).find(({ event }) => !hasCome(teller, event, happening.of))
    const whom = happening.of === undefined ? '' : ` for ${happening.of}`
    return {
      answer: `${name} has never happened. ${
        lacking === undefined
          ? `It is made by ${makers.join(' or ')}, which has not run${whom}`
          : `Elsewhere it comes of ${lacking.event.name}, which has not been raised${whom}`
      }.`,
      causes: other === undefined ? [] : teller.causesOf(other),
    }
  }
  const settled = settlesOf(teller, happening).at(-1)
  const answer = `${name} has never happened, and no handler names it in its own text`
  if (settled === undefined) return { answer: `${answer}.`, causes: [] }
  const { at } = stepOf(settled)
  return {
    answer: `${answer}. ${settled.handler.label} last ran at ${formatElapsed(at)}, and did not raise it.`,
    causes: [...teller.causesOf(settled), ...teller.reads(settled, at, 2, false)],
  }
}

/** When the rule that has the event settled: what no handler names may come of what that calls. */
function settlesOf(teller: Teller, { events, timers }: Happening): Ran[] {
  const { settle, rules } = teller.played.engine.plan
  const owners = [...events.map(({ name }) => name), ...timers.map(({ whole }) => whole)].map(
    (name) => name.split('.')[0],
  )
  const labels = settle.flat().flatMap(({ rule, label }) => (owners.includes(rules[rule]?.name) ? label : []))
  return runsOf(teller, labels, undefined)
}

const hasCome = (teller: Teller, event: EventPlan, of: string | undefined): boolean =>
  raises(teller, { events: [event], timers: [], ...(of !== undefined && { of }) }).length > 0

/** Labels of the handlers that make it happen: those that did so for anybody, else those whose text names it. */
function makersOf(teller: Teller, { events, timers }: Happening): readonly string[] {
  const seen = new Set<string>()
  for (const step of teller.steps)
    for (const deed of deedsOf(step)) {
      const makes =
        deed.what === 'raised'
          ? events.includes(deed.event)
          : isTimer(deed) && deed.what === 'started' && timers.some(({ whole }) => whole === deed.timer.name)
      if (makes && 'by' in deed && deed.by.what === 'ran') seen.add(deed.by.handler.label)
    }
  if (seen.size > 0) return [...seen]
  const names = [...events.map(({ name }) => name), ...timers.map(({ whole }) => whole)]
  return handlersOf(teller.played.engine.plan).flatMap(({ rule, label, run }) =>
    names.some((name) => {
      const [owner, own = ''] = name.split('.')
      return (
        teller.played.engine.plan.rules[rule]?.name === owner &&
        new RegExp(`['"\`]${own}['"\`]`).test(String(run))
      )
    })
      ? label
      : [],
  )
}

function handlersOf({ rules, inputs, timers, settle }: Plan): readonly Handler<never, unknown>[] {
  return [
    ...[...inputs.values()].flatMap(({ gates, handler }) => [...gates, handler]),
    ...rules.flatMap(({ events, drafts, setUp, changed }) => [
      ...[...events.values()].flatMap(({ handlers }) => handlers),
      ...[...drafts.values()].flatMap(({ apply, amendments }) => [apply, ...amendments]),
      setUp ?? [],
      changed ?? [],
    ]),
    ...timers.flatMap(({ fire }) => fire ?? []),
    ...settle.flat(),
  ].flat()
}

/** When these handlers ran: for a seat or key if one is given and they ever did, else for anybody. */
function runsOf(teller: Teller, labels: readonly string[], of: string | undefined): Ran[] {
  const all = teller.steps.flatMap((step) =>
    [...deedsOf(step)].filter(
      (deed): deed is Ran => deed.what === 'ran' && labels.includes(deed.handler.label),
    ),
  )
  if (of === undefined) return all
  return all.filter(
    ({ given: [a, b], read }) =>
      a === of ||
      [a, b].some((each) => Object.values(Object(each)).includes(of)) ||
      [...read].some(([row, cells]) => row.id === of || [...cells.values()].includes(of)),
  )
}
