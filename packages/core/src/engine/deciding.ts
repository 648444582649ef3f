import { InvalidInput, type Parsed, type Seat } from '../cells/index.ts'
import { RefereeError } from '../kit/index.ts'
import type { ActionPlan, Answer, GateCheck, InputPlan } from '../plan/index.ts'
import type { Asked, Gate, Tags } from '../rule/index.ts'
import { everyInput } from './every-input.ts'
import type { Decide, HandlerRunner } from './handler-runner.ts'

/** An input as its handler gets it. `cleaned` says that a schema has already turned it into that. */
export function parseInput(
  engine: HandlerRunner,
  plan: InputPlan,
  value: unknown,
  seat?: Seat,
  cleaned = false,
): Parsed {
  return plan.bySchema && cleaned ? Object(value) : plan.parse(value, engine, seat)
}

/** Takes an input through its gates, then to the rule. generated-handlers.ts makes the same as code for one input. */
export const interpretInput: Decide = (engine, plan, seat, input, tags) => {
  const refusal = refusalAtGates(engine, plan, seat, tags)
  if (refusal !== undefined) return refusal
  if (plan.kind === 'fact') return engine.run(plan.handler, input)
  if (plan.kind === 'directive') return engine.run(plan.handler, input, undefined)
  return afterDeciding(engine, plan, seat, input, engine.run(plan.handler, seat ?? '', input))
}

function refusalAtGates(
  engine: HandlerRunner,
  plan: InputPlan,
  seat: Seat | undefined,
  tags: Tags | undefined,
): Answer {
  const nobody = seat === undefined && tags === undefined
  for (const gate of plan.gates) {
    const refusal = engine.run(gate, nobody ? gate.blank : askedOf(gate, seat, tags))
    if (refusal !== undefined) return refusal
  }
}

export const askedOf = (
  { given, cost }: GateCheck,
  seat: Seat | undefined,
  tags: Tags | undefined,
): Asked => ({
  seat,
  lives: tags?.lives,
  turn: tags?.turn,
  cost,
  given,
})

/** Runs after a rule has decided an action: other rules may refuse it, then the gates charge for it. */
export function afterDeciding(
  engine: HandlerRunner,
  plan: ActionPlan,
  seat: Seat | undefined,
  input: unknown,
  answer: Answer,
): Answer {
  if (answer?.ok === false) return answer
  for (const amendment of plan.amendments) {
    const refusal = engine.run(amendment, Object.freeze({ seat, input }))
    if (refusal !== undefined) return refusal
  }
  for (const gate of plan.gates)
    if (gate.accepted !== undefined) engine.run(gate.accepted, askedOf(gate, seat, undefined))
  return answer
}

/** An action's candidates that would be accepted from a seat now. */
export function optionsOf(
  engine: HandlerRunner,
  plan: ActionPlan,
  seat: Seat,
  part: object,
): readonly unknown[] {
  return candidatesNow(engine, plan, seat, part).filter((candidate) =>
    isAccepted(engine, plan, seat, candidate),
  )
}

/** True if the seat has any option among the actions behind a gate. */
export function canAct(engine: HandlerRunner, seat: Seat, gate: Gate): boolean {
  return actionsUnder(engine, gate).some((plan) =>
    candidatesNow(engine, plan, seat, {}).some((candidate) => isAccepted(engine, plan, seat, candidate)),
  )
}

/** Carries out the first action under a gate whose default is accepted, in the step that runs; whether there was one. */
export function byDefault(engine: HandlerRunner, seat: Seat, gate: Gate): boolean {
  return actionsUnder(engine, gate).some((plan) => {
    const input = plan.onTimeOut && engine.look(plan.onTimeOut, seat, {})
    if (input === undefined) return false
    const parsed = parseInput(engine, plan, input, seat)
    return (
      !(parsed instanceof InvalidInput) &&
      engine.attempt(() => engine.decideNow(plan, seat, parsed, undefined)).ok
    )
  })
}

const actionsUnder = (engine: HandlerRunner, { gate, given }: Gate): ActionPlan[] =>
  [...engine.plan.inputs.values()].filter(
    (plan): plan is ActionPlan =>
      plan.kind === 'action' &&
      plan.gates.some((each) => each.gate === gate && each.given.join() === given.join()),
  )

/** An action's candidates before they are tried. */
export const candidatesOf = (
  engine: HandlerRunner,
  plan: ActionPlan,
  seat: Seat,
  part: object,
): readonly unknown[] =>
  plan.options === undefined ? everyInput(engine, plan, seat) : engine.look(plan.options, seat, part)

/** The candidates that gates let through: none or all of them, since no gate asks for the input. */
export const candidatesNow = (
  engine: HandlerRunner,
  plan: ActionPlan,
  seat: Seat,
  part: object,
): readonly unknown[] =>
  plan.gates.length === 0 || engine.trial(() => refusalAtGates(engine, plan, seat, undefined)).ok
    ? candidatesOf(engine, plan, seat, part)
    : []

function isAccepted(engine: HandlerRunner, plan: ActionPlan, seat: Seat, candidate: unknown): boolean {
  const parsed = parseInput(engine, plan, candidate, seat)
  if (!(parsed instanceof InvalidInput))
    return engine.trial(() => engine.decideNow(plan, seat, parsed, undefined)).ok
  // Rows that the seat can't see are left out. An option that does not fit the input is an error of its rule.
  if (parsed.missing === undefined && plan.options !== undefined)
    engine.ask('options', plan.options.label, undefined, () => {
      throw new RefereeError('ZR_RULE_BAD_OPTION', { action: plan.name, issues: parsed.issues })
    })
  return false
}
