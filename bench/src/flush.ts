import { beginMatch, defineRule, defineRulebook, everyone, int, owner, perSeat, seatRef } from 'zinc-referee'
import { type Row, ratio, timed } from './measure.js'

const ROWS = 60
const VIEWERS = 16
const CHANGES = 20
const FLUSHES = 40

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
  },
  directives: {
    move: {
      input: { seat: seatRef(), x: int(), y: int(), cargo: int() },
      obey(match, { seat, x, y, cargo }) {
        const raft = match.own.raft.of(seat)
        raft.x = x
        raft.y = y
        raft.cargo = cargo
        raft.course = x + y
      },
    },
  },
})
const driftBook = defineRulebook({ name: 'drift', seats: { min: 1, max: ROWS }, rules: [drift] })

/** A flush to 16 viewers, each with its own filtered patch, against one unfiltered JSON.stringify of the same changes. */
export function flushRow(): Row {
  const match = beginMatch(driftBook, { seed: 'bench' })
  const seats = Array.from({ length: ROWS }, (_, n) => `raft-${n + 1}`)
  for (const seat of seats) match.direct('roster.join', { seat, name: seat })
  for (const seat of seats.slice(0, VIEWERS)) match.open(seat)
  match.flush()
  let turn = 0
  let sink = 0

  const change = (): { op: string; path: string; value: number }[] => {
    turn++
    return Array.from({ length: CHANGES }, (_, n) => {
      const seat = seats[(turn * 7 + n * 3) % ROWS] ?? ''
      const [x, y, cargo] = [turn * 13 + n, turn * 17 + n, turn % 9]
      match.direct('drift.move', { seat, x, y, cargo })
      return [
        ['x', x],
        ['y', y],
        ['cargo', cargo],
      ].map(([cell, value]) => ({ op: 'replace', path: `/drift/raft/${seat}/${cell}`, value: Number(value) }))
    }).flat()
  }
  const row = ratio(
    'flush16/floor',
    1.5,
    () => {
      let ms = 0
      for (let n = 0; n < FLUSHES; n++) {
        change()
        ms += timed(() => {
          for (const { patch } of match.flush()) sink += patch.length
        })
      }
      return ms
    },
    () => {
      let ms = 0
      for (let n = 0; n < FLUSHES; n++) {
        const changes = change()
        match.flush()
        ms += timed(() => {
          sink += JSON.stringify(changes).length
        })
      }
      return ms
    },
  )
  if (sink === 0) throw new Error('nothing was flushed')
  return row
}
