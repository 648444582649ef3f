import { InvalidInput } from '../../cells/index.ts'
import { candidatesOf, parseInput } from '../../engine/index.ts'
import type { ActionPlan } from '../../plan/index.ts'
import type { Ruling } from '../../rule/index.ts'
import { formatElapsed } from '../../time/index.ts'
import type { StepTaken } from '../../tracing/index.ts'
import type { Cause, Explanation } from './explanation.ts'
import { causesOfRuling } from './ruling.ts'
import { rulingText, valueText } from './says.ts'
import type { Teller } from './teller.ts'

/** How a candidate was ruled. */
interface Tried {
  readonly input: unknown
  readonly ruling: Ruling
  /** Nothing if no rule was asked. */
  readonly step: StepTaken | undefined
}

/** Why an input is an option of a seat now, or not; without an input, why the action has any, or none. */
export function explainOption(
  teller: Teller,
  plan: ActionPlan,
  seat: string,
  input: object | undefined,
): Explanation {
  const { engine, match } = teller.played
  const when = formatElapsed(match.now)
  const candidates =
    input === undefined
      ? engine.ask('options', plan.options?.label ?? plan.name, [], () =>
          candidatesOf(engine, plan, seat, {}),
        )
      : [input]
  const tries = candidates.map((each) => tried(teller, plan, seat, each))
  const accepted = tries.filter(({ ruling }) => ruling.ok)
  const refused = tries.find(({ ruling }) => !ruling.ok)
  if (input !== undefined) {
    const [only] = tries as [Tried]
    return {
      question: `Why is ${plan.name} ${valueText(input)} an option of ${seat}, or not?`,
      answer: `At ${when}, ${plan.name} ${valueText(input)} ${only.ruling.ok ? 'is an option' : `is no option of ${seat}: it would be ${rulingText(only.ruling)}`}.`,
      causes: causes(teller, only),
    }
  }
  const counts = new Map<string, number>()
  for (const { ruling } of tries) if (!ruling.ok) counts.set(ruling.code, (counts.get(ruling.code) ?? 0) + 1)
  const codes = [...counts].map(([code, times]) => `${times} with ${code}`).join(', ')
  return {
    question: `Why has ${seat} options of ${plan.name}, or none?`,
    answer:
      candidates.length === 0
        ? `At ${when}, the rule lists nothing that ${seat} could do with ${plan.name}.`
        : `At ${when}, ${seat} has ${accepted.length} of ${candidates.length} options of ${plan.name}${codes === '' ? '' : `; refused are ${codes}`}.`,
    causes: refused === undefined ? [] : causes(teller, refused),
  }
}

function tried(teller: Teller, plan: ActionPlan, seat: string, input: unknown): Tried {
  const { engine, inbox, tracer } = teller.played
  const parsed = parseInput(engine, plan, input, seat)
  // An unknown seat, or an input that does not fit.
  if (parsed instanceof InvalidInput || !engine.seating.has(seat) || engine.seating.isGone(seat))
    return { input, ruling: inbox.tried('action', plan.name, input, seat), step: undefined }
  const ruling = engine.tried(plan, seat, parsed)
  return { input, ruling, step: tracer.steps.at(-1) }
}

function causes(teller: Teller, { input, ruling, step }: Tried): readonly Cause[] {
  const { now: at } = teller.played.match
  if (step !== undefined) return causesOfRuling(teller, step)
  const issues = ruling.ok ? [] : (ruling.details?.['issues'] ?? [])
  return [
    {
      at,
      depth: 0,
      says: `${valueText(input)} is ${rulingText(ruling)} ${valueText(issues)}`,
      isDetail: false,
    },
  ]
}
