import type { Operation } from './patch.ts'

/** The latest numbers of an update, by rule, part, row and cell: a JSON Merge Patch (RFC 7396). */
export interface Latest {
  readonly [member: string]: Latest | number
}

/** Returns the latest numbers of an update as operations of a JSON Patch (RFC 6902): they replace what is there. */
export const replacementsOf = (latest: Latest, path = ''): Operation[] =>
  Object.entries(latest).flatMap(([name, value]) => {
    const inner = `${path}/${name.replaceAll('~', '~0').replaceAll('/', '~1')}`
    return typeof value === 'object' ? replacementsOf(value, inner) : { op: 'replace', path: inner, value }
  })

/** Returns all that an update changes as operations of a JSON Patch, for those who want nothing else. */
export const operationsOf = ({
  patch,
  latest,
}: {
  readonly patch: string
  readonly latest?: string | undefined
}): readonly Operation[] => [
  ...(JSON.parse(patch) as Operation[]),
  ...(latest === undefined ? [] : replacementsOf(JSON.parse(latest))),
]

/** Returns two merge patches as one: what the second says counts. */
export function mergedLatest(one: Latest, other: Latest): Latest {
  const both: { [member: string]: Latest | number } = { ...one }
  for (const [name, value] of Object.entries(other)) {
    const before = both[name]
    both[name] = typeof value === 'object' && typeof before === 'object' ? mergedLatest(before, value) : value
  }
  return both
}
