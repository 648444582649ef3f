import { modes } from '@zinc-referee/examples'
import { expect, test } from 'vitest'
import { type AnyMatch, type AnyRulebook, beginAnyMatch, chanceFrom, resumeAnyMatch } from 'zinc-referee'
import { playToEnd } from 'zinc-referee/testing'

const LENGTH = 40_000
const text = (value: unknown): string => JSON.stringify(value)
/** What copies of a match say to an input. One that has accepted one is no copy any more. */
function copiesOf(book: AnyRulebook, match: AnyMatch) {
  const snapshot = match.snapshot()
  let copy: AnyMatch | undefined
  return (seat: string, action: string, input: object) => {
    copy ??= resumeAnyMatch(book, snapshot)
    const ruling = copy.submit(seat, action, input)
    if (ruling.ok) copy = undefined
    return ruling
  }
}

test.each(Object.entries(modes))(
  'in %s what is offered is accepted, and what was offered at another time or to another is refused',
  (name, { rulebook, demo }) => {
    const seats = (demo.seats ?? []).map(({ id }) => id).slice(0, Math.max(3, rulebook.plan.seatLimits.min))
    const match = beginAnyMatch(rulebook, { seed: 'fair-1', with: rulebook.optional })
    for (const seat of seats.slice(0, rulebook.plan.seatLimits.max))
      match.direct('roster.join', { seat, name: seat })
    for (const seat of match.seats) match.submit(seat, 'roster.ready', {})
    match.advanceTo(match.nextDue ?? 0)
    const actions = match
      .describe()
      .rules.flatMap((rule) => rule.actions.flatMap(({ name: action, offers }) => (offers ? [action] : [])))
    const chance = chanceFrom('fair-1', 'offers')
    const known = new Map<string, Map<string, object>>(actions.map((action) => [action, new Map()]))
    let [accepted, refused] = [0, 0]
    const look = (ruling: ReturnType<typeof copiesOf>, seat: string, action: string): void => {
      const offered = new Map(match.options(seat, action).map((input) => [text(input), Object(input)]))
      const ever = known.get(action) ?? new Map<string, object>()
      const others = [...ever].filter(([each]) => !offered.has(each)).map(([, input]) => input)
      for (const [each, input] of offered) ever.set(each, input)
      for (const input of chance.shuffle([...offered.values()]).slice(0, 2)) {
        const said = ruling(seat, action, input)
        expect(said, `${seat} ${action} ${text(input)}`).toEqual({ ok: true })
        accepted++
      }
      for (const input of chance.shuffle(others).slice(0, 1)) {
        const said = ruling(seat, action, input)
        expect(said.ok, `${seat} ${action} ${text(input)}`).toBe(false)
        refused++
      }
    }
    playToEnd(match, demo.crowd?.('fair-1') ?? { every: 1000, beat() {} }, LENGTH, () => {
      const ruling = copiesOf(rulebook, match)
      for (const seat of match.seats) for (const action of actions) look(ruling, seat, action)
    })
    const hasChoices = name !== 'pike-pond' // one may swim anywhere
    expect([accepted > 10, refused > 10]).toEqual([hasChoices, hasChoices])
  },
)
