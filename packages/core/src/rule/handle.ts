import { assertName, RefereeError } from '../kit/index.ts'
import { assertForm } from './form.ts'
import type { Rule, Spec } from './spec.ts'

type Halves = {
  readonly [Part in 'state' | 'drafts' | 'apply' | 'actions' | 'facts' | 'directives']?: object
} & {
  readonly name?: string
}
/** Parts of a definition whose members are not names of its own. */
const others: ReadonlySet<string> = new Set(['settings', 'on', 'amend', 'settle', 'discloses', 'varies'])

/** The one place where a definition becomes a handle; `defineRule` and `declareRule` promise its type. */
export function handleOf<S extends Spec, In>(definition: Halves): Rule<S, In> {
  const name = definition.name ?? ''
  assertName('rule', name)
  assertForm(name, definition)
  for (const [part, named] of Object.entries(definition)) {
    if (typeof named !== 'object' || named === null || Array.isArray(named) || others.has(part)) continue
    for (const key of Object.keys(named)) assertName(part.replace(/s$/, ''), key)
  }
  for (const part of ['timers', 'options', 'settings'])
    if (Object.hasOwn(definition.state ?? {}, part))
      throw new RefereeError('ZR_RULE_BAD_NAME', { what: 'part', name: part })
  const { drafts = {}, apply = {}, actions = {}, facts = {}, directives = {} } = definition
  for (const draft of Object.keys(drafts))
    if (!(draft in apply)) throw new RefereeError('ZR_RULE_UNHANDLED_DRAFT', { rule: name, draft })
  for (const [some, rest] of [
    [actions, { ...facts, ...directives, ...drafts }],
    [facts, directives],
  ] as const) {
    for (const key of Object.keys(some))
      if (key in rest) throw new RefereeError('ZR_RULE_NAME_TWICE', { rule: name, name: key })
  }
  const instance = (given: unknown): object => ({ name, definition, given })
  const handle = Object.defineProperty((given: unknown) => instance(given), 'name', { value: name })
  return Object.assign(handle, { definition, given: {} }) as object as Rule<S, In>
}
