import { RefereeError } from '../kit/index.ts'

/** The operations of JSON Patch (RFC 6902) that updates are made of. */
export type Operation =
  | { readonly op: 'add' | 'replace'; readonly path: string; readonly value: unknown }
  | { readonly op: 'remove'; readonly path: string }

type Json = { readonly [key: string]: unknown }

/**
 * A view with an update's operations applied. The old view stays as it is, and parts that did not change are shared.
 * @throws ZR_REPLICA_BAD_PATCH
 */
export function applyPatch<V extends object>(view: V, operations: readonly Operation[]): V {
  return operations.reduce<Json>(
    (patched, operation) => changed(patched, stepsOf(operation.path), operation),
    view as Json,
  ) as V
}

const stepsOf = (path: string): string[] =>
  path
    .split('/')
    .slice(1)
    .map((step) => step.replaceAll('~1', '/').replaceAll('~0', '~'))

function changed(at: Json, [step, ...rest]: readonly string[], operation: Operation): Json {
  const bad = (why: string): RefereeError =>
    new RefereeError('ZR_REPLICA_BAD_PATCH', { path: operation.path, why })
  if (step === undefined) throw bad('the path is empty')
  if (step === '__proto__') throw bad('no part of a view has this name')
  const there = Object.hasOwn(at, step)
  if (rest.length > 0) {
    const inner = there ? at[step] : undefined
    if (typeof inner !== 'object' || inner === null) throw bad(`there is no '${step}'`)
    return { ...at, [step]: changed(inner as Json, rest, operation) }
  }
  if (operation.op === 'add') return { ...at, [step]: operation.value }
  if (!there) throw bad(`there is no '${step}'`)
  if (operation.op === 'replace') return { ...at, [step]: operation.value }
  const { [step]: _removed, ...others } = at
  return others
}
