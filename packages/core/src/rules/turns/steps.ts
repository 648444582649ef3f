import type { Seat } from '../../cells/index.ts'
import { type Match, NO_LIMIT, type Step } from './shape.ts'

export const stepNamed = (match: Match, name: string): Step | undefined =>
  match.config.steps.find((each) => each.step === name)

export const owed = (match: Match, seat: Seat, step: string): number =>
  match.own.seats.of(seat).owes.get(step) ?? 0

export function setOwed(match: Match, seat: Seat, step: string, n: number) {
  const row = match.own.seats.of(seat)
  const owes = new Map(row.owes)
  if (n > 0) owes.set(step, n)
  else owes.delete(step)
  row.owes = owes
}

/** True if a seat has something left to do in the current step. */
export const hasLeft = (match: Match, seat: Seat): boolean =>
  match.own.seats.of(seat).budget !== 0 || owed(match, seat, match.own.now.step) > 0

/** An accepted action pays a duty if there is one; otherwise it takes from the budget. */
export function pay(match: Match, seat: Seat, cost: number) {
  const { step } = match.own.now
  const row = match.own.seats.of(seat)
  row.away = 0
  row.passed = false
  if (cost === 0) return
  const duty = owed(match, seat, step)
  if (duty > 0) setOwed(match, seat, step, duty - 1)
  else if (row.budget !== NO_LIMIT) row.budget -= cost
}

function enter(match: Match, step: Step, isFirst: boolean) {
  const { now } = match.own
  now.step = step.step
  for (const seat of now.seats) {
    const row = match.own.seats.of(seat)
    row.budget = step.budget === null ? NO_LIMIT : step.budget + (isFirst ? row.bonus : 0)
    if (isFirst) row.bonus = 0
  }
  match.emit('step-began', { step: step.step, turn: now.turn })
}

export function enterFirst(match: Match) {
  const [first] = match.config.steps
  if (first !== undefined) enter(match, first, true)
}

/** The step's budget is used up: begins the next step, or ends the turn. */
export function nextStep(match: Match, why: string) {
  const { steps } = match.config
  const next = steps[steps.findIndex((each) => each.step === match.own.now.step) + 1]
  if (next === undefined) match.own.now.ending = why
  else enter(match, next, false)
}

/** Time is up: does the default of this step once, and again for each duty in it. Then the step is over. */
export function doDefaults(match: Match) {
  const step = stepNamed(match, match.own.now.step)
  for (const seat of match.own.now.seats) {
    if (step === undefined) continue
    const row = match.own.seats.of(seat)
    if (row.budget !== 0 && !match.byDefault(seat, step)) row.passed = true
    for (let duty = owed(match, seat, step.step); duty > 0; duty--) if (!match.byDefault(seat, step)) break
    row.budget = 0
    setOwed(match, seat, step.step, 0)
  }
}
