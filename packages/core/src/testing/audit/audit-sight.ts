import { chanceFrom } from '../../chance/index.ts'
import { RefereeError } from '../../kit/index.ts'
import type { AnyRulebook } from '../../rulebook/index.ts'
import type { AuditAsked, SightAudit, SightLeak } from './asked.ts'
import { byTheRules } from './by-the-rules.ts'
import { compare } from './compare.ts'
import { beginPlay, momentsOf } from './moments.ts'
import { eyesOf, pairOf } from './pair.ts'
import { type Secret, secretsOf } from './secrets.ts'

/**
 * Plays a match and looks, at many of its inputs, with the eyes of every seat and of a spectator: whatever the viewer may
 * not see is given other values, and its view, its options, the rulings on its inputs and what the next step tells it
 * must be the same, byte for byte. What a step shows by the sights themselves is no leak. Where the varied values make
 * another seat's input be ruled otherwise, that seat knew them, and the step is not compared.
 *
 * @throws ZR_MATCH_MISUSED for seats with which no match begins, checks below 1 or a cell that is not there; and what
 *   `beginMatch` throws
 */
export function auditSight(book: AnyRulebook, asked: AuditAsked): SightAudit {
  const secrets = secretsOf(beginPlay(book, asked).describe(), asked.also ?? [])
  assertAsked(asked, secrets)
  const moments = momentsOf(book, asked)
  const discloses: { readonly [name: string]: string } = { ...byTheRules, ...asked.discloses }
  const chance = chanceFrom(asked.seed ?? 'fair-1', 'audit')
  const counts = new Map(secrets.map(({ name }) => [name, 0]))
  const leaks = new Map<string, SightLeak>()
  const disclosed = new Map<string, number>()
  const { returning, usual } = moments
  for (const leak of returning) if (!(leak.secret in discloses)) leaks.set(keyOf(leak), leak)
  let compared = 0
  const viewers = [...asked.seats, 'spectator']
  for (const moment of usual) {
    const eyes = eyesOf(book, moment.snapshot, viewers)
    for (const viewer of viewers)
      for (const secret of secrets) {
        const pair = pairOf(book, moment.snapshot, eyes, viewer, secret, chance)
        if (pair === undefined) continue
        compared += 1
        counts.set(secret.name, (counts.get(secret.name) ?? 0) + 1)
        for (const found of compare(pair, moment, chance, asked.through ?? ((update) => update))) {
          const what = [found.secret, found.input ?? ''].find((name) => name in discloses)
          if (found.input !== undefined && what !== undefined)
            disclosed.set(what, (disclosed.get(what) ?? 0) + 1)
          else leaks.set(keyOf(found), leaks.get(keyOf(found)) ?? found)
        }
      }
  }
  return {
    leaks: [...leaks.values()],
    disclosed: [...disclosed].map(([what, times]) => ({ what, why: discloses[what] ?? '', times })),
    varied: Object.fromEntries(counts),
    compared,
  }
}

function assertAsked({ checks = 1, also = [] }: AuditAsked, secrets: readonly Secret[]): void {
  if (!Number.isSafeInteger(checks) || checks < 1)
    throw new RefereeError('ZR_MATCH_MISUSED', {
      what: `An audit was asked for ${checks} checks`,
      mend: 'Look at one moment at least',
    })
  const unknown = also.find((cell) => secrets.every(({ name }) => name !== cell))
  if (unknown !== undefined)
    throw new RefereeError('ZR_MATCH_MISUSED', {
      what: `No cell '${unknown}' is there to be varied`,
      mend: "Name it as 'rule.part.cell'",
    })
}

/** The same leak, met by another viewer or at another time, is told once. */
const keyOf = ({ secret, by, path, input }: SightLeak): string =>
  [secret, by, path.replace(/^(\/[^/]+\/[^/]+)\/.*\//, '$1/*/'), input].join(' ')
