import { RefereeError, unknownAmong } from '../kit/index.ts'
import type { Definition } from './definition.ts'

/** Returns what is wrong with a value. */
type Check = (where: string, value: unknown) => readonly string[]
type Checks = { readonly [key: string]: Check }

const has = (value: unknown, key: string): boolean => key in Object(value)
const must =
  (fits: (value: unknown) => boolean, what: string): Check =>
  (where, value) =>
    fits(value) ? [] : [`'${where}' must be ${what}`]

const anything: Check = () => []
const handler = must((value) => typeof value === 'function', 'a function')
const object = must((value) => typeof value === 'object' && value !== null, 'an object')
const rules = must((value) => [value].flat().every((each) => has(each, 'definition')), 'a list of rules')
const part = must((value) => has(value, 'part'), 'perSeat(…), single(…) or table(…)')
const cell = must((value) => has(value, 'problem'), 'a cell, such as int()')

const each =
  (check: Check): Check =>
  (where, value) => [
    ...object(where, value),
    ...Object.entries(Object(value)).flatMap(([key, member]) => check(`${where}.${key}`, member)),
  ]
const members =
  (needed: Checks, optional: Checks): Check =>
  (where, value) => {
    const known = { ...needed, ...optional }
    const given = Object.entries(Object(value))
    return [
      ...object(where, value),
      ...unknownAmong(Object.keys(Object(value)), `part of ${where} called`, Object.keys(known)),
      ...Object.keys(needed).flatMap((key) =>
        Object(value)[key] === undefined ? [`'${where}' has no '${key}'`] : [],
      ),
      ...given.flatMap(([key, member]) =>
        member === undefined ? [] : (known[key]?.(`${where}.${key}`, member) ?? []),
      ),
    ]
  }
const cells: Check = (where, value) => (has(value, '~standard') ? [] : each(cell)(where, value))
const timer = members(
  {},
  { clock: anything, band: anything, keyedBy: anything, seenBy: anything, fire: handler },
)

/** Every part of a rule: types say when one is missing here. */
const form: { readonly [P in keyof Definition]-?: Check } = {
  name: anything,
  needs: rules,
  knows: rules,
  settings: anything,
  config: handler,
  state: each(part),
  events: each(cells),
  notices: each(members({}, { lasts: anything, says: anything, later: anything })),
  drafts: each(cells),
  calls: each(handler),
  apply: each(handler),
  actions: each(
    members(
      { input: cells, decide: handler },
      {
        when: anything,
        cost: anything,
        neverLimited: anything,
        offered: anything,
        options: handler,
        onTimeOut: handler,
      },
    ),
  ),
  facts: each(members({ input: cells, handle: handler }, { when: anything, late: anything })),
  directives: each(members({ input: cells, handle: handler }, {})),
  timers: each((where, value) => (typeof value === 'function' ? [] : timer(where, value))),
  gates: each(members({ place: anything, check: handler }, { applies: anything, accepted: handler })),
  on: each(handler),
  amend: each(handler),
  groups: each(handler),
  sides: handler,
  inSight: handler,
  varies: anything,
  variations: each(handler),
  discloses: anything,
  refusals: anything,
  setUp: handler,
  onVoid: handler,
  changed: handler,
  settle: members({ wokenBy: anything, run: handler }, { tier: anything, alsoBy: handler }),
}
const rule = members({ name: anything }, form)

/**
 * Refuses a rule of another form than its types say. JavaScript, and TypeScript that is run unchecked, would drop what
 * is misspelt: a handler that never runs, and nobody notices.
 * @throws ZR_RULE_BAD_FORM
 */
export function assertForm(name: string, definition: object): void {
  const issues = rule(name, definition)
  if (issues.length > 0) throw new RefereeError('ZR_RULE_BAD_FORM', { rule: name, issues })
}
