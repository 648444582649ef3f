import { z } from 'zod'
import { RefereeError } from '../../kit/index.ts'

/** A kind of card in a data file: so many with this face. */
export interface Content<F extends string> {
  readonly id: string
  readonly face: F
  readonly count: number
}

/**
 * The faces that a data file asks for, one for each card, in its order.
 *
 * @throws ZR_DATA_INVALID for an id that is there twice, an unknown field or face, or a count that cannot be; each with its path
 */
export function contentsOf<const F extends string>(data: unknown, faces: readonly F[]): F[] {
  const schema = z
    .array(
      z.strictObject({
        id: z.string().min(1),
        face: z.enum(faces),
        count: z.int().min(1).max(10_000).default(1),
      }),
    )
    .superRefine((contents, context) => {
      const seen = new Set<string>()
      for (const [at, { id }] of contents.entries()) {
        if (seen.has(id))
          context.addIssue({ code: 'custom', path: [at, 'id'], message: `'${id}' is there twice` })
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
