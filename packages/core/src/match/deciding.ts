import type { Parsed, Seat } from '../state/index.ts'
import type { Engine } from './engine.ts'
import type { Asked, Gate } from './gates.ts'
import type { ActionPlan, Answer, InputPlan } from './plan.ts'
import type { Refusal } from './ruling.ts'

/** An input as its handler gets it. `cleaned` says that a schema has already turned it into that. */
export function parseInput(
  engine: Engine,
  plan: InputPlan,
  value: unknown,
  seat?: Seat,
  cleaned = false,
): Parsed {
  return plan.bySchema && cleaned ? { ok: true, input: Object(value) } : plan.parse(value, engine, seat)
}

/** The first gate that does not let through. */
export function gated(
  engine: Engine,
  plan: InputPlan,
  seat: Seat | undefined,
  lives: Asked['lives'],
): Refusal | undefined {
  const nobody = seat === undefined && lives === undefined
  for (const gate of plan.gates) {
    const refusal = engine.run(gate, nobody ? gate.blank : { seat, lives, given: gate.given })
    if (refusal) return refusal
  }
  return undefined
}

/** What the rule makes of an input that its gates have let through. */
export function carryOut(engine: Engine, plan: InputPlan, seat: Seat | undefined, input: unknown): Answer {
  if (plan.kind === 'action') return decide(engine, plan, seat ?? '', input)
  return plan.kind === 'fact' ? engine.run(plan.handler, input) : engine.run(plan.handler, input, undefined)
}

/** The rule's own decision, then other rules' refusals, then what the gates take for it. */
function decide(engine: Engine, plan: ActionPlan, seat: Seat, input: unknown): Answer {
  const ruling = engine.run(plan.handler, seat, input)
  if (ruling?.ok === false) return ruling
  for (const amendment of plan.amendments) {
    const refusal = engine.run(amendment, Object.freeze({ seat, input }))
    if (refusal) return refusal
  }
  for (const { accepted, given } of plan.gates)
    if (accepted !== undefined) engine.run(accepted, { seat, lives: undefined, given })
  return ruling
}

/** An action's candidates that would be accepted from a seat now. */
export function optionsOf(engine: Engine, plan: ActionPlan, seat: Seat, part: object): readonly unknown[] {
  return candidatesOf(engine, plan, seat, part).filter((candidate) =>
    isAccepted(engine, plan, seat, candidate),
  )
}

/** Whether a seat has any option among the actions that stand under a gate. */
export function canAct(engine: Engine, seat: Seat, { gate, given }: Gate): boolean {
  const actions = [...engine.plan.inputs.values()].filter(
    (plan): plan is ActionPlan =>
      plan.kind === 'action' &&
      plan.gates.some((each) => each.gate === gate && each.given.join() === given.join()),
  )
  return actions.some((plan) =>
    candidatesOf(engine, plan, seat, {}).some((candidate) => isAccepted(engine, plan, seat, candidate)),
  )
}

/** An empty input is its own candidate. */
function candidatesOf(engine: Engine, plan: ActionPlan, seat: Seat, part: object): readonly unknown[] {
  if (plan.options !== undefined) return engine.look(plan.options, seat, part)
  return !('~standard' in plan.input) && Object.keys(plan.input).length === 0 ? [{}] : []
}

function isAccepted(engine: Engine, plan: ActionPlan, seat: Seat, candidate: unknown): boolean {
  const parsed = parseInput(engine, plan, candidate, seat)
  return (
    parsed.ok &&
    engine.trial(() => gated(engine, plan, seat, undefined) ?? carryOut(engine, plan, seat, parsed.input)).ok
  )
}
