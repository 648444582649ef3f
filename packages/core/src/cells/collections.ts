import { canonicalJson, type Schema, validate } from '../kit/index.ts'
import { type Bounded, type Cell, cell, type Mark, type Reference, shown } from './cell.ts'
import type { Reach } from './sights.ts'

/** A list of values of one kind. A list that you write is copied and frozen. */
export function list<V>(of: Cell<V, Reach, Mark>): Bounded<readonly V[], 'required'>
export function list<V>(of: Cell<V, Reach, Mark>, first: readonly NoInfer<V>[]): Bounded<readonly V[]>
export function list<V>(of: Cell<V, Reach, Mark>, first?: readonly V[]): Bounded<readonly V[], 'required'> {
  const problem = (value: unknown) => {
    if (!Array.isArray(value)) return `must be a list, not ${shown(value)}`
    for (const [at, item] of value.entries()) {
      const inner = nullProblem(of, item) ?? of.problem(item)
      if (inner !== undefined) return `has an item ${at} that ${inner}`
    }
    return undefined
  }
  return cell({
    kind: 'list',
    initial: Object.freeze([...(first ?? [])]),
    required: first === undefined,
    of,
    problem,
  })
}

/**
 * A set of values, kept in the order of their texts. For state only. A view shows it as an object with a member for
 * each.
 */
export function set<V extends string | number>(of: Cell<V, Reach, Mark>): Cell<ReadonlySet<V>> {
  const problem = (value: unknown) => {
    if (!(value instanceof Set)) return `must be a Set, not ${shown(value)}`
    for (const item of value) {
      const inner = of.problem(item) ?? keyProblem(item)
      if (inner !== undefined) return `has an item ${shown(item)} that ${inner}`
    }
    return undefined
  }
  return cell({ kind: 'set', initial: new Set(), required: false, of, problem })
}

/** Values under text keys, kept in the order of the keys. For state only. A view shows it as an object. */
export function map<V>(of: Cell<V, Reach, Mark>): Cell<ReadonlyMap<string, V>> {
  const problem = (value: unknown) => {
    if (!(value instanceof Map)) return `must be a Map, not ${shown(value)}`
    for (const [key, item] of value) {
      const outer = typeof key === 'string' ? keyProblem(key) : 'must be text'
      if (outer !== undefined) return `has a key ${shown(key)} that ${outer}`
      const inner = nullProblem(of, item) ?? of.problem(item)
      if (inner !== undefined) return `has under ${shown(key)} a value that ${inner}`
    }
    return undefined
  }
  return cell({ kind: 'map', initial: new Map(), required: false, of, problem })
}

/** Any JSON that fits a schema (Standard Schema). It is stored and sent as a whole. */
export function json<V>(schema: Schema<unknown, V>): Cell<V, 'nobody', 'required' | 'no-zero'>
export function json<V>(schema: Schema<unknown, V>, first: NoInfer<V>): Cell<V>
export function json<V>(schema: Schema<unknown, V>, first?: V): Cell<V, 'nobody', 'required' | 'no-zero'> {
  const problem = (value: unknown) => {
    const plain = jsonProblem(value)
    if (plain !== undefined) return plain
    const outcome = validate(schema, value, 'json cell')
    if ('issues' in outcome) return `does not fit its schema: ${outcome.issues.join('; ')}`
    // A schema that transforms values would make what is read differ from what was written.
    return canonicalJson(outcome.value) === canonicalJson(value) ? undefined : 'is changed by its schema'
  }
  return cell({ kind: 'json', initial: first, required: first === undefined, problem })
}

/** The same cell, or nothing. */
export function maybe<V, M extends Mark>(
  of: Cell<V, Reach, M>,
): Reference<V | undefined, Extract<M, 'seat'>> {
  return cell({
    kind: 'maybe',
    initial: undefined,
    required: false,
    of,
    problem: (value) => (value === undefined ? undefined : of.problem(value)),
  })
}

/** In a list, nothing is sent as null, so JSON's own null can't be an item. */
const nullProblem = (of: Cell<unknown, Reach, Mark>, item: unknown): string | undefined =>
  of.kind === 'maybe' && item === null
    ? 'is null, which stands for nothing there: write undefined'
    : undefined

const keyProblem = (key: string | number): string | undefined =>
  key === '__proto__' || key === 'constructor' || key === 'prototype' ? 'every object has already' : undefined

/** Maximum depth of nested JSON. Deeper values can't be sorted, compared and sent everywhere. */
const MAX_DEEP = 64

/**
 * Returns the problem with a value that must be JSON, or nothing. JSON gives the same text when it is parsed and
 * written again.
 */
function jsonProblem(value: unknown, within: readonly unknown[] = []): string | undefined {
  if (value === null || typeof value === 'boolean') return undefined
  if (typeof value === 'string')
    return /\p{Surrogate}/u.test(value) ? 'has half of a surrogate pair' : undefined
  if (typeof value === 'number') return Number.isFinite(value) ? undefined : `must be JSON, not ${value}`
  if (typeof value !== 'object') return `must be JSON, not ${typeof value}`
  if (within.includes(value)) return 'contains itself'
  if (within.length >= MAX_DEEP) return `is nested more than ${MAX_DEEP} deep`
  const prototype: unknown = Object.getPrototypeOf(value)
  if (!Array.isArray(value) && prototype !== Object.prototype && prototype !== null)
    return `must be JSON, not ${shown(value)}`
  for (const [key, item] of Object.entries(value)) {
    if (item === undefined && !Array.isArray(value)) continue // JSON leaves it out
    const inner =
      keyProblem(key) === undefined ? jsonProblem(item, [...within, value]) : `has '${key}' as a key`
    if (inner !== undefined) return inner
  }
  return undefined
}
