import type { Connections } from './connections.ts'

/** The way to a client that your own code carries: between pages, through a pipe, or within this process. */
export interface Channel {
  /** Where it comes from, for limits and the log. Default: 'channel'. */
  readonly address?: string
  /** Takes a message for the client: one line of text. */
  send(text: string): void
  /** Called when the venue ends it. Codes and reasons are those that a WebSocket would be closed with. */
  close(code: number, reason: string): void
  /** Returns how many bytes wait for the client, if you know: for those that read slowly. Default: 0. */
  waiting?(): number
}
/** The venue's end of a channel. */
export interface ChannelEnd {
  /** Hands in a message of the client. */
  received(text: string): void
  /** Says that the client is gone. Nobody else notices. */
  closed(): void
}

/** Connects a client that comes by a channel. */
export function openChannel(connections: Connections, channel: Channel): ChannelEnd {
  let isOpen = true
  const end = (code: number, reason: string): void => {
    if (!isOpen) return
    isOpen = false
    channel.close(code, reason)
    connections.remove(connection)
  }
  const connection = connections.add({
    address: channel.address ?? 'channel',
    patience: Number.POSITIVE_INFINITY,
    get isOpen() {
      return isOpen
    },
    get waiting() {
      return channel.waiting?.() ?? 0
    },
    send: (text) => channel.send(text),
    close: end,
    terminate: () => end(1006, 'the venue ends it'),
    ping: () => {},
  })
  return {
    received(text) {
      if (isOpen) connection.received(text)
    },
    closed() {
      isOpen = false
      connections.remove(connection)
    },
  }
}
