import { connect } from '@zinc-referee/venue/client'
import { WebSocket as WsSocket } from 'ws'
import { type AnyRulebook, defineRule, defineRulebook, everyone, int, single } from 'zinc-referee'

/** A socket that gives what it was given when the test says so. */
export class HeldSocket {
  static readonly OPEN = 1
  static last: HeldSocket
  readyState = 0
  onopen?: () => void
  onmessage?: (event: { data: string }) => void
  onclose?: (event: { reason: string; code?: number }) => void
  readonly sent: string[] = []

  constructor() {
    HeldSocket.last = this
  }
  send(text: string): void {
    this.sent.push(text)
  }
  close(reason = '', code = 1006): void {
    this.readyState = 3
    this.onclose?.({ reason, code })
  }
  begin(): void {
    this.readyState = HeldSocket.OPEN
    this.onopen?.()
  }
}
const drum = defineRule({
  name: 'drum',
  state: { drum: single({ beats: int(0).seenBy(everyone), tempo: int(0).latest(1).seenBy(everyone) }) },
  events: { beaten: { n: int().seenBy(everyone) } },
  actions: {
    beat: {
      input: {},
      decide(match) {
        match.own.drum.beats += 1
        match.own.drum.tempo += 3
        match.emit('beaten', { n: match.own.drum.beats })
      },
    },
  },
})
export const book = defineRulebook({ name: 'drum', seats: { min: 1, max: 2 }, rules: [drum] })

/** A drum that counts beats by so much each, by seats or by a referee, with these cells besides; and it may burst. */
export const drumOf = (by = 1, cells: object = {}): AnyRulebook =>
  defineRulebook({
    name: 'drum',
    seats: { min: 1, max: 2 },
    rules: [
      defineRule({
        name: 'drum',
        state: { drum: single({ beats: int(0).seenBy(everyone), ...cells }) },
        actions: {
          beat: {
            input: {},
            decide(match) {
              match.own.drum.beats += by
            },
          },
        },
        directives: {
          strike: {
            input: {},
            handle(match) {
              match.own.drum.beats += by
            },
          },
          burst: {
            input: {},
            handle() {
              throw new Error('it has a hole')
            },
          },
        },
      }),
    ],
  })

/** A class of sockets, and those that were made of it. */
export function kept() {
  const sockets: WsSocket[] = []
  class Socket extends WsSocket {
    constructor(url: string) {
      super(url)
      sockets.push(this)
    }
  }
  return { sockets, Socket }
}

export const entered = (extra: object = {}) =>
  connect<any>({ url: 'ws://fair', clock: () => 0, changed() {}, ended() {}, ...extra })
