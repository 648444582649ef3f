import { freePath, KeptMatch, type KeptRecord } from '../records/index.ts'
import type { MatchesOptions } from './options.ts'

const NEW = { lines: 0, bytes: 0 }

/** Returns the record of a new match, if any is kept. */
export function newRecord(
  id: string,
  mode: string,
  { keeping, keeper }: Pick<MatchesOptions, 'keeping' | 'keeper'>,
): KeptRecord | undefined {
  if (keeper !== undefined) return keeper.begin(id, mode)
  return keeping && new KeptMatch(freePath(keeping.folder, `${mode}-${id}`), keeping, NEW)
}

/** A match that cannot begin leaves no record. */
export function orNoRecord<R>(kept: KeptRecord, begin: () => R): R {
  try {
    return begin()
  } catch (error) {
    kept.discard()
    throw error
  }
}
