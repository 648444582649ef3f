import {
  type AnyCell,
  type Cells,
  fewValues,
  InvalidInput,
  type Parse,
  prepareParse,
  preparePart,
  prepareShow,
  rowCell,
} from '../cells/index.ts'
import { RefereeError, type Schema, validate } from '../kit/index.ts'
import type { InputSpec } from '../rule/index.ts'
import { factPlaces, type Gate, type GatePlace, gatePlaces } from '../rule/index.ts'
import type { ActionPlan, GateCheck, InputPlan, RulePlan } from './plan.ts'

/** A rule's actions, facts and directives, each with its parser and the gates before it. `first`: the number of the first. */
export function inputsOf(
  { name: rule, definition, index }: RulePlan,
  first: number,
  rules: readonly RulePlan[],
  generated: boolean,
): InputPlan[] {
  const { actions = {}, facts = {}, directives = {} } = definition
  let number = first
  const common = (input: string, spec: InputSpec) => ({
    number: number++,
    name: `${rule}.${input}`,
    input: spec,
    parse: parserOf(`${rule}.${input}`, spec, rule, generated),
    bySchema: '~standard' in spec,
    rowCells: rowCellsOf(spec),
    amendments: [],
    options: undefined,
  })
  return [
    ...Object.entries(actions).map(
      ([
        key,
        { input, when = [], offered = false, neverLimited = false, cost = 1, ...action },
      ]): InputPlan => ({
        ...common(key, input),
        kind: 'action',
        ...asPart(input, rule),
        isListable: isListable(input),
        offered,
        neverLimited,
        gates: gatesOf(rule, key, [when].flat(), rules, gatePlaces, cost),
        onTimeOut: action.onTimeOut && {
          rule: index,
          label: `${rule} default ${key}`,
          run: action.onTimeOut,
        },
        handler: { rule: index, label: `${rule} action ${key}`, run: action.decide },
        options: action.options && { rule: index, label: `${rule} options ${key}`, run: action.options },
      }),
    ),
    ...Object.entries(facts).map(
      ([key, { input, when = [], late = 0, handle }]): InputPlan => ({
        ...common(key, input),
        kind: 'fact',
        late,
        gates: gatesOf(rule, key, [when].flat(), rules, factPlaces),
        handler: { rule: index, label: `${rule} fact ${key}`, run: handle },
      }),
    ),
    ...Object.entries(directives).map(
      ([key, { input, handle }]): InputPlan => ({
        ...common(key, input),
        kind: 'directive',
        gates: [],
        handler: { rule: index, label: `${rule} directive ${key}`, run: handle },
      }),
    ),
  ]
}

/** So many inputs can be listed, besides what seats and rows there are. */
const MOST_INPUTS = 1000

/** True if all inputs that these cells allow can be listed. Nobody knows what a schema allows. */
function isListable(spec: InputSpec): boolean {
  if ('~standard' in spec) return false
  const counts = Object.values(spec as Cells).map((cell) =>
    cell.kind === 'seat' || cell.kind === 'row' ? 1 : (fewValues(cell)?.length ?? Infinity),
  )
  return counts.reduce((all, count) => all * count, 1) <= MOST_INPUTS
}

/** Returns how part of an input is checked, and how an option is shown. Inputs with a schema pass unchanged. */
function asPart(spec: InputSpec, rule: string): Pick<ActionPlan, 'parsePart' | 'show'> {
  return '~standard' in spec
    ? { parsePart: (part) => Object(part), show: (option) => option }
    : { parsePart: preparePart(spec as Cells, rule), show: prepareShow(spec as Cells, rule) }
}

/** The cells of an input that name rows. What a schema lets through names none. */
const rowCellsOf = (spec: InputSpec): readonly string[] =>
  '~standard' in spec ? [] : Object.keys(spec).filter((name) => rowCell((spec as Cells)[name] as AnyCell))

function parserOf(name: string, spec: InputSpec, rule: string, generated: boolean): Parse {
  if (!('~standard' in spec)) return prepareParse(spec as Cells, rule, generated)
  return (value) => {
    const outcome = validate(spec as Schema<unknown, unknown>, value, name)
    return 'issues' in outcome ? new InvalidInput(outcome.issues) : Object(outcome.value)
  }
}

/** In the order of their places: the gates it asks for, and those that stand before every action and fact. */
function gatesOf(
  rule: string,
  action: string,
  asked: readonly Gate[],
  rules: readonly RulePlan[],
  places: readonly GatePlace[] = gatePlaces,
  cost = 1,
): GateCheck[] {
  const all = rules.flatMap((each) =>
    Object.entries(each.definition.gates ?? {}).map(([gate, how]) => ({
      name: `${each.name}.${gate}`,
      index: each.index,
      ...how,
    })),
  )
  for (const { gate } of asked)
    if (!all.some(({ name }) => name === gate))
      throw new RefereeError('ZR_RULE_UNKNOWN_GATE', { rule, action, gate })
  return places.flatMap((place) => {
    const here = all.filter((gate) => gate.place === place)
    const named = asked.filter(({ gate }) => here.some(({ name }) => name === gate))
    return here.flatMap(({ name, index, applies = 'asked', check, accepted }): GateCheck[] => {
      const given = asked.filter(({ gate }) => gate === name).map((gate) => gate.given)
      if (applies === 'always' || (applies === 'unasked' && named.length === 0)) given.push([])
      const took = accepted && { rule: index, label: `${name} gate accepted`, run: accepted }
      return given.map((each) => ({
        rule: index,
        label: `${name} gate`,
        gate: name,
        given: each,
        cost,
        blank: { seat: undefined, cost, given: each },
        run: check,
        accepted: took,
      }))
    })
  })
}
