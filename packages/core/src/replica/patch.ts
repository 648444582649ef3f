import { badPatch } from '../kit/index.ts'

/** The operations of JSON Patch (RFC 6902) that updates are made of. */
export type Operation =
  | { readonly op: 'add' | 'replace'; readonly path: string; readonly value: unknown }
  | { readonly op: 'remove'; readonly path: string }

type Json = { readonly [key: string]: unknown }
type List = readonly unknown[]

/**
 * Returns a view with an update's operations applied. The old view stays as it is, and parts that did not change are
 * shared. @throws ZR_REPLICA_BAD_PATCH
 */
export function applyPatch<V extends object>(view: V, operations: readonly Operation[]): V {
  return operations.reduce<Json | List>((patched, operation) => {
    assertOperation(operation)
    return changed(patched, stepsOf(operation.path), operation)
  }, view as Json) as V
}

/** Updates use three operations. An operation from elsewhere is refused, never skipped. */
function assertOperation(operation: unknown): void {
  const { op, path, value } = Object(operation) as { readonly [key: string]: unknown }
  const bad = (why: string): never => {
    throw badPatch(String(path), why)
  }
  if (typeof path !== 'string' || !path.startsWith('/')) bad("its path must be a text that begins with '/'")
  if (op !== 'add' && op !== 'replace' && op !== 'remove')
    bad(`the operation must be 'add', 'replace' or 'remove', not ${JSON.stringify(op)}`)
  if (op !== 'remove' && value === undefined) bad(`'${op}' needs a value`)
}

const stepsOf = (path: string): string[] =>
  path
    .split('/')
    .slice(1)
    .map((step) => step.replaceAll('~1', '/').replaceAll('~0', '~'))

type Bad = (why: string) => Error

function changed(at: Json | List, [step, ...rest]: readonly string[], operation: Operation): Json | List {
  const bad: Bad = (why) => badPatch(operation.path, why)
  if (step === undefined) throw bad('the path is empty')
  if (step === '__proto__') throw bad('no part of a view has this name')
  if (rest.length > 0) {
    const inner = Object.hasOwn(at, step) ? (at as Json)[step] : undefined
    if (typeof inner !== 'object' || inner === null) throw bad(`there is no '${step}'`)
    const within = changed(inner as Json | List, rest, operation)
    return Array.isArray(at) ? at.with(Number(step), within) : { ...at, [step]: within }
  }
  return Array.isArray(at) ? inList(at, step, operation, bad) : inObject(at as Json, step, operation, bad)
}

function inObject(at: Json, step: string, operation: Operation, bad: Bad): Json {
  if (operation.op !== 'add' && !Object.hasOwn(at, step)) throw bad(`there is no '${step}'`)
  if (operation.op !== 'remove') return { ...at, [step]: operation.value }
  const { [step]: _removed, ...others } = at
  return others
}

function inList(at: List, step: string, operation: Operation, bad: Bad): List {
  const place = Number(step)
  const most = operation.op === 'add' ? at.length : at.length - 1
  if (!/^(0|[1-9]\d*)$/.test(step) || place > most) throw bad(`there is no place '${step}'`)
  if (operation.op === 'remove') return at.toSpliced(place, 1)
  return at.toSpliced(place, operation.op === 'add' ? 0 : 1, operation.value)
}
