import {
  beginMatch,
  defineRule,
  defineRulebook,
  everyone,
  int,
  owner,
  perSeat,
  seatRef,
  table,
  text,
} from 'zinc-referee'

const drift = defineRule({
  name: 'drift',
  state: {
    raft: perSeat({
      x: int(0).seenBy(everyone),
      y: int(0).seenBy(everyone),
      health: int(100).seenBy(everyone),
      cargo: int(0).seenBy(owner),
      course: int(0),
    }),
    crates: table({ x: int().seenBy(everyone), y: int().seenBy(everyone), from: text('').seenBy(everyone) }),
  },
  directives: {
    move: {
      input: { seat: seatRef(), x: int(), y: int(), cargo: int() },
      handle(match, { seat, x, y, cargo }) {
        const raft = match.own.raft.of(seat)
        raft.x = x
        raft.y = y
        raft.cargo = cargo
        raft.course = x + y
      },
    },
    drop: {
      input: { count: int() },
      handle(match, { count }) {
        for (let n = 0; n < count; n++) match.own.crates.add({ x: n, y: n })
      },
    },
    push: {
      input: { crate: text(), x: int(), y: int() },
      handle(match, { crate: id, x, y }) {
        const crate = match.own.crates.get(id)
        if (crate === undefined) return
        crate.x = x
        crate.y = y
      },
    },
  },
})
const book = defineRulebook({ name: 'drift', seats: { min: 1, max: 1000 }, rules: [drift] })

export interface Change {
  readonly op: 'replace'
  readonly path: string
  readonly value: number
}
export interface WorldSize {
  readonly seats: number
  readonly viewers: number
  readonly crates: number
  /** Rows that change before each flush: rafts first, then crates. */
  readonly rafts: number
  readonly pushes: number
}

/** A match with rafts, crates and viewers, whose rows can be changed again and again. */
export function world({ seats: count, viewers, crates: dropped, rafts, pushes }: WorldSize) {
  const match = beginMatch(book, { seed: 'bench' })
  const seats = Array.from({ length: count }, (_, n) => `raft-${n + 1}`)
  for (const seat of seats) match.direct('roster.join', { seat, name: seat })
  match.direct('drift.drop', { count: dropped })
  const crates = match.state.drift.crates.all().map(({ id }) => id)
  for (const seat of seats.slice(0, viewers)) match.addViewer(seat)
  match.flush()
  let turn = 0
  return {
    match,
    viewers: seats.slice(0, viewers),
    /** Changes rows, and says what changed as a list that is not filtered. */
    change(): Change[] {
      turn++
      const changes: Change[] = []
      for (let n = 0; n < rafts; n++) {
        const seat = seats[(turn * 7 + n * 3) % count] ?? ''
        const cells = { x: turn * 13 + n, y: turn * 17 + n, cargo: (turn + n) % 9 }
        match.direct('drift.move', { seat, ...cells })
        for (const [cell, value] of Object.entries(cells))
          changes.push({ op: 'replace', path: `/drift/raft/${seat}/${cell}`, value })
      }
      for (let n = 0; n < pushes; n++) {
        const crate = crates[(turn * 11 + n * 7) % dropped] ?? ''
        const cells = { x: turn * 3 + n, y: turn * 5 + n }
        match.direct('drift.push', { crate, ...cells })
        for (const [cell, value] of Object.entries(cells))
          changes.push({ op: 'replace', path: `/drift/crates/${crate}/${cell}`, value })
      }
      return changes
    },
    /** Sends, and says how many characters that were, so that no result is left unused. */
    flush: (): number =>
      match.flush().reduce((sum, { patch, latest = '' }) => sum + read(patch) + read(latest), 0),
  }
}
export type World = ReturnType<typeof world>

/** Its length, once a character has been read: only then has a text that was joined been written out. */
export const read = (text: string): number => text.length + (text.charCodeAt(text.length - 1) & 0)
