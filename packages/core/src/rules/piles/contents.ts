import * as z from 'zod/mini'
import { RefereeError } from '../../kit/index.ts'
import { listOf, oneOf, setting, whole, word } from '../../settings/index.ts'

/** A kind of card in a data file: this many with this face. */
export interface Content<F extends string> {
  readonly id: string
  readonly face: F
  readonly count: number
}

/**
 * Returns the faces that a data file lists, one for each card, in its order.
 *
 * @throws ZR_DATA_INVALID for a repeated id, an unknown field or face, or an impossible count, each with its path
 */
export function contentsOf<const F extends string>(data: unknown, faces: readonly F[]): F[] {
  const schema = listOf(
    z.strictObject(
      { id: word, face: oneOf(...faces), count: setting(whole({ min: 1, max: 10_000 }), 1) },
      {
        error: (issue) =>
          issue.code === 'unrecognized_keys' ? `has an unknown field: ${issue.keys}` : 'must be an object',
      },
    ),
  ).check(({ value, issues }) => {
    const seen = new Set<string>()
    for (const [at, { id }] of value.entries()) {
      if (seen.has(id))
        issues.push({ code: 'custom', path: [at, 'id'], message: `'${id}' is there twice`, input: id })
      seen.add(id)
    }
  })
  const parsed = schema.safeParse(data)
  if (!parsed.success)
    throw new RefereeError('ZR_DATA_INVALID', {
      issues: parsed.error.issues.map(({ path, message }) => `${path.join('.') || 'the file'}: ${message}`),
    })
  return parsed.data.flatMap(({ face, count }) => Array.from({ length: count }, () => face as F))
}
