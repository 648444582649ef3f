import { importJWK, type JWK, jwtVerify } from 'jose'
import { z } from 'zod'
import { type Role, roles } from './roles.ts'

/** Who may come in: holders of tokens (JWT, RFC 7519) that one of these keys has signed. */
export interface Admissions {
  /**
   * Keys as JWK (RFC 7517), each with its `kid` and its `alg`: `EdDSA` (a public key is enough) or `HS256`. To change a key,
   * add the new one, sign with it, and take the old one away when its last token has expired.
   */
  readonly keys: readonly (JWK & { readonly kid: string; readonly alg: string })[]
  /** The issuer (`iss`) that tokens must name. Default: it does not matter. */
  readonly issuer?: string
}

/** What a token says. */
export interface Admission {
  /** Who it is for. A player with the same one gets the same seat again. */
  readonly player: string
  readonly role: Role
  /** The match that it is for. Default: all of the venue's. */
  readonly match: string | undefined
  /** The id of the seat to take. Default: one made from the name. */
  readonly seat: string | undefined
  readonly name: string | undefined
  /** True if its seat leads the match: it may start, set, kick, extend and play again. */
  readonly organiser: boolean
}
/** Returns what a token says, or nothing if it is not valid here. */
export type AdmissionCheck = (token: string) => Promise<Admission | undefined>

const ALGORITHMS = ['EdDSA', 'HS256']
const word = z.string().min(1).max(200)
const claims = z.object({
  sub: word,
  role: z.enum(roles),
  match: word.optional(),
  seat: word.optional(),
  name: word.optional(),
  organiser: z.boolean().default(false),
})

/**
 * Returns what checks a token: it resolves to what it says, or to nothing if it is not signed by one of the keys, has
 * expired or has no time of expiry (`exp`), or lacks `sub` or `role`. Why is not said: whoever forges tokens learns nothing.
 */
export function admissionCheck({ keys, issuer }: Admissions): AdmissionCheck {
  const keyOf = async ({ kid, alg }: { readonly kid?: string; readonly alg?: string }) => {
    // The algorithm is the key's own, whatever the token says.
    const key = keys.find((each) => each.kid === kid && each.alg === alg && ALGORITHMS.includes(each.alg))
    if (key === undefined) throw new TypeError('unknown key')
    return importJWK(key, key.alg)
  }
  return async (token) => {
    try {
      const { payload } = await jwtVerify(token, keyOf, {
        algorithms: ALGORITHMS,
        requiredClaims: ['exp'],
        clockTolerance: 5,
        ...(issuer !== undefined && { issuer }),
      })
      const { sub, ...rest } = claims.parse(payload)
      return { player: sub, match: undefined, seat: undefined, name: undefined, ...rest }
    } catch {
      return undefined
    }
  }
}
