import { RefereeError } from '../kit/index.ts'
import type { Operation } from './patch.ts'

/** The latest numbers of an update, by rule, part, row and cell: a JSON Merge Patch (RFC 7396). */
export interface Latest {
  readonly [member: string]: Latest | number
}

/**
 * Returns a view with the latest numbers of an update. The old view stays as it is, and parts that did not change are
 * shared. @throws ZR_REPLICA_BAD_PATCH for a member that is not there
 */
export const applyLatest = <V extends object>(view: V, latest: Latest): V => merged(view, latest, '') as V

function merged(at: object, latest: Latest, path: string): object {
  const changed: Record<string, unknown> = { ...at }
  for (const [name, value] of Object.entries(latest)) {
    const inner = Object.hasOwn(at, name) ? changed[name] : undefined
    const isInner = typeof value === 'object'
    if (inner === undefined || isInner !== (typeof inner === 'object'))
      throw new RefereeError('ZR_REPLICA_BAD_PATCH', {
        path: `${path}/${name}`,
        why: `there is no '${name}'`,
      })
    changed[name] = isInner ? merged(Object(inner), value, `${path}/${name}`) : value
  }
  return changed
}

/** Returns two merge patches as one: what the second says counts. */
export function mergedLatest(one: Latest, other: Latest): Latest {
  const both: { [member: string]: Latest | number } = { ...one }
  for (const [name, value] of Object.entries(other)) {
    const before = both[name]
    both[name] = typeof value === 'object' && typeof before === 'object' ? mergedLatest(before, value) : value
  }
  return both
}

/** Returns all that an update changes as operations of a JSON Patch (RFC 6902), for those who want nothing else. */
export const operationsOf = ({
  patch,
  latest,
}: {
  readonly patch: string
  readonly latest?: string | undefined
}): readonly Operation[] => [
  ...(JSON.parse(patch) as Operation[]),
  ...(latest === undefined ? [] : replacements(JSON.parse(latest), '')),
]

const replacements = (latest: Latest, path: string): Operation[] =>
  Object.entries(latest).flatMap(([name, value]) => {
    const inner = `${path}/${name.replaceAll('~', '~0').replaceAll('/', '~1')}`
    return typeof value === 'object' ? replacements(value, inner) : { op: 'replace', path: inner, value }
  })
