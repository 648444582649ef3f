import { explainRefusal, type Ruling } from '../../rule/index.ts'
import { type Deed, deedsOf, type Ran, type StepTaken } from '../../tracing/index.ts'
import type { Cause, Explanation } from './explanation.ts'
import { inputText, rulingText } from './says.ts'
import { isRefusal, isTimer, type Teller } from './teller.ts'

/** Of what an input did, so many changes are no details. */
const BRIEF = 4

/** Why the input of a line was ruled as it was, and what it did. */
export function explainRuling(teller: Teller, number: number): Explanation {
  const { line, rulings } = teller.played.inputs.get(number) as NonNullable<
    ReturnType<typeof teller.played.inputs.get>
  >
  const what = inputText(line)
  const at = line.t
  const step = teller.steps.find((each) => each.line === number)
  const refused = rulings.find(({ ok }) => !ok)
  return {
    question: `Why was line ${number} ruled as it was?`,
    answer: `${what} was ${rulings.length > 1 ? rulings.map(rulingText).join(', ') : ruled(teller, refused)}.`,
    causes:
      step === undefined
        ? [
            {
              at,
              line: number,
              depth: 0,
              says: 'It was refused before any rule was asked.',
              isDetail: false,
            },
          ]
        : causesOfRuling(teller, step),
  }
}

function ruled(teller: Teller, ruling: Ruling | undefined): string {
  if (ruling === undefined || ruling.ok) return 'accepted'
  const texts = Object.assign(
    {},
    ...teller.played.engine.plan.rules.map(({ definition: { refusals = {} } }) => refusals),
  )
  return `${rulingText(ruling)}. ${explainRefusal(ruling, texts).replace(/\.$/, '')}`
}

/** The gates, what refused or threw, or what was changed. */
export function causesOfRuling(teller: Teller, step: StepTaken): Cause[] {
  const { at, did, ruling, error } = step
  const gates = did.flatMap((deed): Cause[] =>
    deed.what === 'ran' && deed.handler.label.endsWith(' gate') && !isRefusal(deed.answer)
      ? [{ at, depth: 1, says: `${deed.handler.label} lets it through`, isDetail: true }]
      : [],
  )
  if (ruling?.ok !== false)
    return [{ ...teller.stepCause(step), isDetail: true }, ...gates, ...effects(teller, step)]
  const culprit = refuser(step, ruling.code)
  const says = error === undefined ? `refuses it with ${ruling.code}` : `throws ${String(error)}`
  return [
    { ...teller.stepCause(step), isDetail: true },
    ...gates,
    ...(culprit === undefined
      ? [{ at, depth: 1, says: `the engine ${says}`, isDetail: false }]
      : [
          { at, depth: 1, says: `${culprit.handler.label} ${says}`, isDetail: false },
          ...teller.reads(culprit, at, 2, false),
        ]),
  ]
}

/** The innermost handler that answered with this code, or that threw. */
function refuser(step: StepTaken, code: string): Ran | undefined {
  let found: Ran | undefined
  for (const deed of deedsOf(step))
    if (deed.what === 'ran' && (deed.hasThrown || (isRefusal(deed.answer) && deed.answer.code === code)))
      found = deed
  return found
}

/** What was changed, started and raised, by whom. The first few are no details. */
function effects(teller: Teller, step: StepTaken): Cause[] {
  const { at } = step
  let brief = 0
  return [...deedsOf(step)].flatMap((deed): Cause[] => {
    if (deed.what === 'resolved') {
      const subject = `${subjectOf(deed)} ${teller.deedText(deed)}`
      return [{ at, depth: 1, says: subject, isDetail: brief++ >= BRIEF }, ...teller.amendments(deed, at, 2)]
    }
    if (deed.what === 'ran') return teller.reads(deed, at, 2, true)
    const counts = deed.what === 'raised' || isTimer(deed) || deed.what === 'wrote'
    return [
      {
        at,
        depth: 1,
        says: `${subjectOf(deed)} ${teller.deedText(deed)}`,
        isDetail: !counts || brief++ >= BRIEF,
      },
    ]
  })
}

function subjectOf({ by }: Deed): string {
  if (by.what === 'ran') return by.handler.label
  return by.what === 'resolved' ? by.draft.name : 'the engine'
}
