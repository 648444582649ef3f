import { beginMatch, defineRule, defineRulebook, everyone, int, perSeat, refuse, seatRef } from 'zinc-referee'
import { SEATS } from './hits.js'
import { type Row, ratio, timed } from './measure.js'

const ACTIONS = 10_000

const crates = defineRule({
  name: 'crates',
  state: { hold: perSeat({ crates: int(8).seenBy(everyone) }) },
  events: {
    handed: {
      from: seatRef().seenBy(everyone),
      to: seatRef().seenBy(everyone),
      count: int().seenBy(everyone),
    },
  },
  actions: {
    hand: {
      input: { to: seatRef(), count: int() },
      decide(match, seat, { to, count }) {
        const hold = match.own.hold.of(seat)
        if (to === seat || count > hold.crates) return refuse('too-many')
        hold.crates -= count
        match.own.hold.of(to).crates += count
        match.emit('handed', { from: seat, to, count })
      },
    },
  },
})
const book = defineRulebook({ name: 'crates', seats: { min: 2, max: 8 }, rules: [crates] })

const asked = Array.from({ length: ACTIONS }, (_, n) => ({
  id: n + 1,
  t: n * 50,
  seat: SEATS[n % 8] ?? '',
  input: { to: SEATS[(n * 5 + 3) % 8] ?? '', count: 1 + (n % 3) },
}))

function submitting() {
  const lines: string[] = []
  const match = beginMatch(book, { seed: 'bench', record: (line) => lines.push(line) })
  for (const seat of SEATS) match.direct('roster.join', { seat, name: seat })
  match.direct('phases.start', {})
  match.advanceTo(match.nextDue ?? 0)
  const began = match.now
  const before = lines.length
  const results: boolean[] = []
  return {
    run() {
      for (const { id, t, seat, input } of asked) {
        match.advanceTo(began + t)
        results.push(match.submit(seat, 'crates.hand', input, { id }).ok)
      }
    },
    results,
    lines: () => lines.slice(before).filter((line) => !line.includes('"check"')),
  }
}

/** The same by hand: the same checks in the same order, a notice, and the same record line. */
function byHand(began: number) {
  const lines: string[] = []
  const notices: object[] = []
  const holds = new Map(SEATS.map((seat) => [seat, { crates: 8, gone: false, present: true }]))
  const remembered = new Map<string, { id: number; payload: string; ok: boolean }[]>()
  const results: boolean[] = []
  const decide = (seat: string, input: unknown): string | undefined => {
    if (typeof input !== 'object' || input === null) return 'bad-input'
    const { to, count } = input as { to?: unknown; count?: unknown }
    for (const key of Object.keys(input)) if (key !== 'to' && key !== 'count') return 'bad-input'
    if (typeof to !== 'string' || !Number.isSafeInteger(count)) return 'bad-input'
    const [hold, other] = [holds.get(seat), holds.get(to)]
    if (other === undefined) return 'no-such-target'
    if (hold === undefined || !hold.present) return 'absent'
    if (to === seat || Number(count) > hold.crates) return 'too-many'
    hold.crates -= Number(count)
    other.crates += Number(count)
    notices.push({ name: 'crates.handed', at: 0, until: 6000, cells: { from: seat, to, count } })
    return undefined
  }
  return {
    run() {
      for (const { id, t, seat, input } of asked) {
        const hold = holds.get(seat)
        if (hold === undefined || hold.gone) continue
        const known = remembered.get(seat) ?? []
        const payload = JSON.stringify(['crates.hand', input])
        const before = known.find((each) => each.id === id)
        if (before !== undefined && before.payload === payload) continue
        const no = decide(seat, input)
        known.push({ id, payload, ok: no === undefined })
        if (known.length > 8) known.shift()
        remembered.set(seat, known)
        results.push(no === undefined)
        lines.push(
          JSON.stringify({
            t: began + t,
            submit: 'crates.hand',
            seat,
            input,
            how: { id },
            ...(no && { no }),
          }),
        )
        if (notices.length > 1000) notices.length = 0
      }
    },
    results,
    lines: () => lines,
  }
}

/** `submit` with ids, notices and a record line, against a loop by hand. */
export function submitRow(): Row {
  const [ours, theirs] = [submitting(), byHand(3000)]
  ours.run()
  theirs.run()
  if (ours.lines().join('\n') !== theirs.lines().join('\n')) {
    const at = ours.lines().findIndex((line, n) => line !== theirs.lines()[n])
    throw new Error(`the records differ:\n${ours.lines()[at]}\n${theirs.lines()[at]}`)
  }
  return ratio(
    'submit/hand',
    { most: 3 },
    () => timed(submitting().run),
    () => timed(byHand(3000).run),
    41,
  )
}
