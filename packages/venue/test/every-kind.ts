import {
  type AnyRulebook,
  amount,
  choice,
  defineRule,
  defineRulebook,
  everyone,
  flag,
  int,
  json,
  list,
  map,
  maybe,
  num,
  owner,
  perSeat,
  refuse,
  rowOf,
  seatRef,
  set,
  single,
  table,
  text,
  time,
} from 'zinc-referee'
import { inPhase, roster } from 'zinc-referee/rules'
import { z } from 'zod'

/** A stall with something of every kind. */
const stall = defineRule({
  name: 'stall',
  needs: [roster],
  state: {
    purses: perSeat({ coins: int(3).seenBy(owner), open: flag(false).seenBy(everyone) }).derives({
      rich: { to: everyone, as: ({ coins }) => coins > 5 },
    }),
    jars: table({
      kind: choice('plum', 'sloe').seenBy(everyone),
      of: maybe(seatRef()).seenBy(everyone),
      price: int(1).latest(100).seenBy(everyone),
      weight: num(0.5).between(0, 2).seenBy(everyone),
    }),
    shelf: single({
      until: time().seenBy(everyone),
      best: maybe(rowOf('jars')).seenBy(everyone),
      tags: list(text(), []).between(0, 3).seenBy(everyone),
      seen: set(text()).seenBy(everyone),
      counts: map(int()).seenBy(everyone),
      note: json(z.object({ says: z.string() }), { says: '' }).seenBy(everyone),
      hidden: int(7),
    }),
  },
  events: {
    sold: {
      seat: seatRef().seenBy(everyone),
      jar: maybe(rowOf('jars')).seenBy(everyone),
      n: amount().between(1, 2).seenBy(owner),
    },
  },
  notices: { sold: { says: '{seat} sells a jar', lasts: 2000 } },
  timers: {
    close: { seenBy: everyone, keyedBy: 'text', fire: (match) => void match.own.jars.add({ kind: 'sloe' }) },
  },
  refusals: { broke: 'You have {coins} coins.' },
  actions: {
    sell: {
      when: inPhase('live'),
      input: { n: int().between(1, 2), to: maybe(seatRef()) },
      offered: true,
      options: () => [{ n: 1 }, { n: 2 }],
      decide(match, seat, { n }) {
        const purse = match.own.purses.of(seat)
        if (purse.coins < n) return refuse('broke', { coins: purse.coins })
        purse.coins -= n
        const { id } = match.own.jars.add({ kind: 'plum', of: seat })
        match.emit('sold', { seat, jar: id, n })
        match.timers.start('close', { in: 5000, key: 'lamp' })
      },
    },
  },
  facts: {
    priced: {
      when: inPhase('live'),
      input: { price: int() },
      handle(match, { price }) {
        for (const jar of match.own.jars.all()) jar.price = price
      },
    },
  },
})
export const book: AnyRulebook = defineRulebook({ name: 'stall', seats: { min: 2, max: 2 }, rules: [stall] })
