import { importJWK, type JWK, SignJWT } from 'jose'
import { venueError } from '../errors.ts'
import type { Deliver } from './outbox.ts'

/** Where verdicts are sent: as the body of a POST, a JWT (RFC 7519) whose claims are the verdict. */
export interface DeliveryAddress {
  readonly url: string
  /** What it is signed with: a JWK (RFC 7517) with its `kid` and its `alg`, `HS256` or `EdDSA` (a private key). */
  readonly key: JWK & { readonly kid: string; readonly alg: string }
}

const PATIENCE = 10_000

/** Returns what posts a verdict. Any status of 200 to 299 means that it was taken. */
export function postTo({ url, key }: DeliveryAddress): Deliver {
  return async (verdict) => {
    const body = await new SignJWT({ ...verdict })
      .setProtectedHeader({ alg: key.alg, kid: key.kid })
      .setIssuedAt()
      .sign(await importJWK(key, key.alg))
    const answer = await fetch(url, {
      method: 'POST',
      body,
      headers: { 'content-type': 'application/jwt' },
      signal: AbortSignal.timeout(PATIENCE),
    })
    if (!answer.ok) throw venueError('ZR_VENUE_DELIVERY', { url, status: answer.status })
  }
}
