import { choice, defineRule, defineRulebook, int, list, seatRef, single, text } from 'zinc-referee'
import { firstTo, roster, scores, turnStep, turns, verdict } from 'zinc-referee/rules'
import { playMatch } from 'zinc-referee/testing'

export const work = turnStep('work')
export const hang = turnStep('hang', { budget: 0 })
export const rest = turnStep('rest', { budget: null })
export const SEATS = ['otter', 'heron', 'vole', 'newt']

export const game = defineRule({
  name: 'game',
  needs: [turns, scores, roster],
  state: { log: single({ lines: list(text(), []) }) },
  actions: {
    dig: { when: work, input: {}, decide() {} },
    look: { when: work, cost: 0, input: {}, decide() {} },
    haul: { when: work, cost: 2, input: {}, decide() {} },
    /** Two to hang, and an action more. */
    wish: {
      when: work,
      input: { owed: int(2), more: int(0) },
      decide(match, seat, { owed, more }) {
        match.use(turns).owe(seat, hang, owed)
        match.use(turns).budget({ seat, add: more, why: 'wish' })
      },
    },
    hang: { when: hang, input: {}, onTimeOut: () => ({}), decide() {} },
  },
  directives: {
    give: {
      input: {
        what: choice('extra', 'miss', 'reverse', 'hold', 'go-on', 'finish', 'use-up', 'out'),
        seat: seatRef(),
        n: int(1),
      },
      handle(match, { what, seat, n }) {
        if (what === 'extra') match.use(turns).extra(seat)
        if (what === 'miss') match.use(turns).miss(seat, n)
        if (what === 'reverse') match.use(turns).reverse()
        if (what === 'hold') match.use(turns).hold('tide')
        if (what === 'go-on') match.use(turns).goOn('tide')
        if (what === 'finish') match.use(turns).finish('closed')
        if (what === 'use-up') match.use(turns).useUp(seat)
        if (what === 'out') match.use(roster).sideline(seat, 'home')
      },
    },
    transfer: {
      input: { from: seatRef(), to: seatRef(), n: int(1) },
      handle: (match, { from, to, n }) => match.use(turns).transfer(from, to, n),
    },
    earn: {
      input: { seat: seatRef(), amount: int() },
      handle: (match, given) => match.use(scores).give({ ...given, reason: 'earned' }),
    },
  },
  on: {
    'turns.ended'(match, { seat, why }) {
      match.own.log.lines = [...match.own.log.lines, `${seat ?? 'all'} ${why}`]
    },
    'turns.skipped'(match, { seat, why }) {
      match.own.log.lines = [...match.own.log.lines, `${seat} skipped ${why}`]
    },
    'turns.extra-dropped'(match, { seat, why }) {
      match.own.log.lines = [...match.own.log.lines, `${seat} dropped ${why}`]
    },
    'turns.all-passed'(match) {
      match.own.log.lines = [...match.own.log.lines, 'all passed']
    },
  },
})
/** Two rules that each grant one more when somebody wishes. */
export const granting = (name: string) =>
  defineRule({
    name,
    needs: [turns],
    amend: {
      'turns.budget'(_, draft) {
        draft.add.add(1)
      },
    },
  })
export const bookOf = (steps: readonly ReturnType<typeof turnStep>[], ...more: any[]) =>
  defineRulebook({
    name: 'game',
    seats: { min: 2, max: 6 },
    rules: [
      scores,
      turns({
        steps,
        inOrder: ({ seats }) => [...seats.slice(1), ...seats.slice(0, 1), ...seats.slice(0, 1)],
      }),
      verdict({ when: [firstTo(1000)] }),
      game,
      ...more,
    ],
  } as any) as any
export const simple = bookOf([work])
export const steps = bookOf([work, hang])

export function playing(
  settings: object = {},
  seats: readonly string[] = SEATS.slice(0, 3),
  book = simple,
  roster: object = {},
) {
  const { match } = playMatch(book, seats, { settings: { turns: settings, roster } }) as { match: any }
  const now = () => match.view('spectator').turns.now
  const give = (what: string, seat: string = seats[0] ?? '', n = 1) =>
    match.direct('game.give', { what, seat, n })
  return {
    match,
    now,
    give,
    turn: () => now().seat,
    at: (play: number) => match.advanceTo(3000 + play),
    dig: (seat = now().seat ?? '') => match.submit(seat, 'game.dig', {}),
    pass: (seat = now().seat ?? '') => match.submit(seat, 'turns.pass', {}),
    row: (seat: string) => match.view('spectator').turns.seats[seat],
    log: () => match.state.game.log.lines,
    /** Whose turns the next so many are, each with one action. */
    order(n: number): string[] {
      return Array.from({ length: n }, () => {
        const seat = now().seat
        match.submit(seat, 'game.dig', {})
        return seat
      })
    },
  }
}
