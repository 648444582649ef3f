import { generate } from '../kit/index.ts'
import type { DraftPlan, InputPlan } from '../plan/index.ts'
import { andAfter, beyondBounds, redirected } from './apply-draft.ts'
import { afterDeciding, askedOf } from './deciding.ts'
import type { ApplyDraft, Decide } from './handler-runner.ts'

/**
 * Generates the code that takes an input or a draft through its handlers. Each handler gets its own call site, so
 * that the JavaScript engine can inline it; a loop has one call site for all of them. deciding.ts and apply-draft.ts
 * have the same as loops, for pages where code may not be generated.
 */
export function generateDecide(plan: InputPlan): Decide {
  const { gates, handler, kind } = plan
  const checks = gates.map((gate, at) => {
    const asked = `nobody ? gates[${at}].blank : askedOf(gates[${at}], seat, tags)`
    return `${call(`gates[${at}]`, gate.rule, asked)}; if (r !== undefined) return r`
  })
  const given = { action: "seat ?? '', input", fact: 'input', directive: 'input, undefined' }[kind]
  const more = kind === 'action' && (plan.amendments.length > 0 || gates.some(({ accepted }) => accepted))
  return made(
    { gates, handler, afterDeciding, askedOf },
    [...gates.map((_, at) => `gates[${at}]`), 'handler'],
    `(engine, plan, seat, input, tags) => {
      const { scopes } = engine
      const nobody = seat === undefined && tags === undefined
      let r
      ${checks.join('\n')}
      ${call('handler', handler.rule, given)}
      return ${more ? 'afterDeciding(engine, plan, seat, input, r)' : 'r'}
    }`,
  )
}

export function generateApplyDraft(plan: DraftPlan): ApplyDraft {
  const { amendments, apply, bounded } = plan
  const checked =
    bounded.length === 0 ? '' : 'const beyond = beyondBounds(plan, filled); if (beyond) return beyond'
  const amended = amendments.map(
    ({ rule }, at) => `draft.$rule = ${rule}; ${call(`amendments[${at}]`, rule, 'draft')}
      if (r !== undefined) { store.open = open; engine.running = outer; return r }`,
  )
  const opened = `let draft = new Draft(plan.name, filled)
    const { open } = store
    store.open = false
    ${amended.join('\n')}
    store.open = open
    if (draft.$targets !== undefined) {
      draft = redirected(engine, plan, draft)
      if (draft.ok === false) { engine.running = outer; return draft }
    }`
  const isOpened = amendments.length > 0
  return made(
    { amendments, apply, Draft: plan.Draft, andAfter, beyondBounds, redirected },
    [...amendments.map((_, at) => `amendments[${at}]`), 'apply'],
    `(engine, plan, filled) => {
      ${checked}
      const { scopes, store, running: outer } = engine
      let r
      ${isOpened ? opened : ''}
      ${call('apply', apply.rule, isOpened ? 'draft.$settled()' : 'filled')}
      engine.running = outer
      return ${isOpened ? 'draft.$after === undefined ? r : andAfter(engine, draft, r)' : 'r'}
    }`,
  )
}

const nameOf = (handler: string): string => `run_${handler.replace(/\W/g, '_')}`

/** A handler's call as Engine.run does it. */
const call = (handler: string, rule: number, given: string): string =>
  `engine.running = ${handler}.label; r = ${nameOf(handler)}(scopes[${rule}], ${given}); if (r instanceof Promise) engine.waited(r)`

/** The function of this text. Handlers are constants of their own, by what they are called there. */
function made<F>(parts: object, handlers: readonly string[], text: string): F {
  const constants = handlers.map((handler) => `const ${nameOf(handler)} = ${handler}.run`)
  return generate(parts, `(() => { ${constants.join('; ')}; return ${text} })()`)
}
