import { chanceFrom } from '../../chance/index.ts'
import { RefereeError } from '../../kit/index.ts'
import type { AnyRulebook, RulebookDescription } from '../../rulebook/index.ts'
import type { AuditAsked, AuditedRecord, SightAudit, SightLeak } from './asked.ts'
import { compare } from './compare.ts'
import { momentsOf } from './moments.ts'
import { eyesOf, pairOf } from './pair.ts'
import { search } from './search.ts'
import { played, recorded } from './sources.ts'
import { marksOf, type Variation, variationsOf } from './variations.ts'

/**
 * Plays a match, or one that was recorded, and looks, at many of its inputs, with the eyes of every seat and of a
 * spectator: whatever the viewer may not see is given other values, and its view, its options, the rulings on its inputs
 * and what the next step tells it must be the same, byte for byte. What a step shows by the sights themselves is no leak.
 * Where the varied values make another seat's input be ruled otherwise, that seat knew them, and the step is not compared.
 * With one hidden row less, and with other chance to come, the view and the options must be the same too. And marks are
 * planted in hidden numbers and words, and looked for in what the viewer is sent in the next ten steps.
 *
 * @throws ZR_MATCH_MISUSED for seats with which no match begins, checks below 1 or a name that is not there; what
 *   `beginMatch` throws; and for a record what `replayRecord` throws
 */
export function auditSight(book: AnyRulebook, asked: AuditAsked | AuditedRecord): SightAudit {
  const { checks = 24, also = [], through = (update) => update } = asked
  const source = 'record' in asked ? recorded(book, asked.record) : played(book, asked)
  const description = source.begin().describe()
  const variations = variationsOf(description, also)
  const marks = marksOf(description, also)
  const discloses: { readonly [name: string]: string } = Object.assign(
    {},
    ...description.rules.map((rule) => rule.discloses),
    asked.discloses,
  )
  assertAsked(checks, also, variations)
  assertKnown(Object.keys(discloses), description)
  const { returning, usual } = momentsOf(source, checks)
  const chance = chanceFrom('seed' in asked ? (asked.seed ?? 'fair-1') : 'fair-1', 'audit')
  const counts = new Map(variations.map(({ name }) => [name, 0]))
  const leaks = new Map<string, SightLeak>()
  const disclosed = new Map<string, number>()
  const isExcused = ({ secret, input }: SightLeak, what: string): boolean =>
    what in discloses && (input !== undefined || isTable(secret))
  for (const leak of returning) if (!(leak.secret in discloses)) leaks.set(keyOf(leak), leak)
  const take = (found: SightLeak): void => {
    const what = [found.secret, found.input ?? ''].find((name) => isExcused(found, name))
    if (what !== undefined) disclosed.set(what, (disclosed.get(what) ?? 0) + 1)
    else leaks.set(keyOf(found), leaks.get(keyOf(found)) ?? found)
  }
  let compared = 0
  for (const moment of usual) {
    const eyes = eyesOf(book, moment.snapshot)
    for (const viewer of eyes.keys()) {
      for (const variation of variations) {
        const pair = pairOf(book, moment.snapshot, eyes, viewer, variation, chance)
        if (pair === undefined) continue
        compared += 1
        counts.set(variation.name, (counts.get(variation.name) ?? 0) + 1)
        for (const found of compare(pair, moment, chance, through)) take(found)
      }
      for (const mark of marks) {
        const pair = pairOf(book, moment.snapshot, eyes, viewer, mark, chance)
        for (const found of pair === undefined ? [] : search(pair, moment.onward)) take(found)
      }
    }
  }
  return {
    leaks: [...leaks.values()],
    disclosed: Object.entries(discloses)
      .filter(([what]) => !isCell(what) || counts.has(what))
      .map(([what, why]) => ({ what, why, times: disclosed.get(what) ?? 0 })),
    varied: Object.fromEntries(counts),
    compared,
  }
}

function assertAsked(checks: number, also: readonly string[], variations: readonly Variation[]): void {
  if (!Number.isSafeInteger(checks) || checks < 1)
    throw new RefereeError('ZR_MATCH_MISUSED', {
      what: `An audit was asked for ${checks} checks`,
      mend: 'Look at one moment at least',
    })
  const unknown = also.find((cell) => variations.every(({ name }) => name !== cell))
  if (unknown !== undefined)
    throw new RefereeError('ZR_MATCH_MISUSED', {
      what: `No cell '${unknown}' is there to be varied`,
      mend: "Name it as 'rule.part.cell'",
    })
}

/** What is told on purpose is a secret's name or an input's: any other would excuse nothing, and nobody would notice. */
function assertKnown(names: readonly string[], { rules }: RulebookDescription): void {
  const inputs = rules.flatMap((rule) => [...rule.actions, ...rule.facts, ...rule.directives])
  const cells = rules.flatMap(({ name, state }) =>
    Object.entries(state).flatMap(([part, how]) => [
      `${name}.${part}`,
      ...Object.keys(how.cells).map((cell) => `${name}.${part}.${cell}`),
    ]),
  )
  const known = new Set(['time', ...inputs.map(({ name }) => name), ...cells])
  const unknown = names.find((name) => !known.has(name))
  if (unknown !== undefined)
    throw new RefereeError('ZR_MATCH_MISUSED', {
      what: `'discloses' names '${unknown}', which is neither a cell nor an input`,
      mend: "Name it as 'rule.part.cell', 'rule.part', 'rule.action' or 'time'",
    })
}

/** 'rule.part.cell', and 'rule.part'. What everyone sees by the rulebook's settings is no secret that could be told. */
const isCell = (name: string): boolean => name.split('.').length === 3
const isTable = (secret: string): boolean => secret.split('.').length === 2

/** The same leak, met by another viewer or at another time, is told once. */
const keyOf = ({ secret, by, path, input }: SightLeak): string =>
  [secret, by, path.replace(/^(\/[^/]+\/[^/]+)\/.*\//, '$1/*/'), input].join(' ')
