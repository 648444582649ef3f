import type { BareSocket, SocketClass } from './line.ts'

/** What your own way to a venue tells the client. */
export interface WayEvents {
  /** It can be used from now on. */
  open(): void
  /** A message of the venue. */
  message(text: string): void
  /** It has ended, with the venue's code and reason if there are any. */
  closed(code?: number, reason?: string): void
}
/** A way to a venue that your own code carries. */
export interface Way {
  /** Sends a message to the venue. */
  send(text: string): void
  /** Ends it from this side. */
  close(): void
}

const [CONNECTING, OPEN, CLOSED] = [0, 1, 3]

/**
 * Returns a class for `connect({ WebSocket })` that goes by a way of your own: lines over TCP, a channel between pages, or
 * a venue in the same process. `begin` gets the address of `connect` and calls `events` later, not at once.
 */
export function socketOver(begin: (url: string, events: WayEvents) => Way): SocketClass {
  return class implements BareSocket {
    readyState = CONNECTING
    onopen: ((event: never) => void) | null = null
    onmessage: ((event: never) => void) | null = null
    onerror: ((event: never) => void) | null = null
    onclose: ((event: never) => void) | null = null
    private readonly way: Way

    constructor(url: string) {
      this.way = begin(url, {
        open: () => {
          this.readyState = OPEN
          this.onopen?.({} as never)
        },
        message: (data) => this.onmessage?.({ data } as never),
        closed: (code, reason = '') => {
          if (this.readyState === CLOSED) return
          this.readyState = CLOSED
          this.onclose?.({ code, reason } as never)
        },
      })
    }

    send(text: string): void {
      this.way.send(text)
    }

    close(): void {
      this.way.close()
    }
  }
}
