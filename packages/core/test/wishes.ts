import { defineRule, defineRulebook, int, list, seatRef, seconds, single, text } from 'zinc-referee'
import { reaction, reactions, roster, turnStep, turns, verdict } from 'zinc-referee/rules'
import { playMatch } from 'zinc-referee/testing'

export const play = turnStep('play', { budget: 1 })
export const SEATS = ['otter', 'heron', 'vole', 'newt']

/** A wish is fulfilled unless somebody hushes it, and a hush is heard unless somebody hushes that. */
export const wishes = defineRule({
  name: 'wishes',
  needs: [turns, reactions, roster],
  state: {
    log: single({ lines: list(text(), []) }),
    /** How many hushes each seat has left: nobody but the server knows. */
    breath: single({ left: int(99) }),
  },
  actions: {
    wish: {
      when: play,
      input: {},
      decide: (match, seat) => match.use(reactions).open({ kind: 'wish', opener: seat }),
    },
    stay: { when: play, input: {}, decide() {} },
    hush: {
      when: reaction('wish'),
      input: {},
      decide(match, seat) {
        if (match.own.breath.left === 0) return { ok: false, code: 'no-breath' } as const
        match.own.breath.left -= 1
        return match.use(reactions).open({ kind: 'wish', opener: seat })
      },
    },
    /** Ends the window for all others too. */
    spoil: {
      when: reaction('wish'),
      input: {},
      decide(match, seat) {
        match.own.log.lines = [...match.own.log.lines, `${seat} spoils it`]
        match.use(reactions).finish()
      },
    },
  },
  directives: {
    out: {
      input: { seat: seatRef() },
      handle: (match, { seat }) => match.use(roster).sideline(seat, 'home'),
    },
    breath: {
      input: { left: int() },
      handle(match, { left }) {
        match.own.breath.left = left
      },
    },
  },
  on: {
    'reactions.closed'(match, { opener, reacted }) {
      match.own.log.lines = [...match.own.log.lines, `${opener}: ${reacted.join(' ') || 'nobody'}`]
    },
    'turns.ended'(match, { seat, why }) {
      match.own.log.lines = [...match.own.log.lines, `${seat} ended, ${why}`]
    },
  },
})
export const book = defineRulebook({
  name: 'wishes',
  seats: { min: 2, max: 4 },
  rules: [
    turns({ steps: [play], turnTime: seconds(10) }),
    reactions({ time: seconds(2) }),
    verdict({}),
    wishes,
  ],
})

export function wishing(settings: object = {}, seats: readonly string[] = SEATS) {
  const { match, replay } = playMatch(book, seats, { settings: { reactions: settings } })
  const windows = () =>
    Object.entries(match.view('spectator').reactions.windows).sort(([, a], [, b]) => a.depth - b.depth)
  const does = (seat: string, what: 'wish' | 'hush' | 'stay' | 'spoil') => {
    const ruling = match.submit(seat, `wishes.${what}`, {})
    return ruling.ok || ruling.code
  }
  return {
    match,
    replay,
    does,
    windows,
    at: (play: number) => match.advanceTo(3000 + play),
    asked: () => windows().map(([, { asked }]) => asked.join(' ')),
    decline(seat: string, at = -1) {
      const window = windows().at(at)?.[0] ?? 'none'
      const ruling = match.submit(seat, 'reactions.decline', { window })
      return ruling.ok || ruling.code
    },
    log: () => match.state.wishes.log.lines,
    turn: () => match.view('spectator').turns.now,
  }
}
