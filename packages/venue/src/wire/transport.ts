/** The way to one client, whatever carries it: messages are texts without line breaks. */
export interface Transport {
  /** The address it comes from, for limits and the log. */
  readonly address: string
  readonly isOpen: boolean
  /** Bytes that were sent and that the client has not read yet. */
  readonly waiting: number
  send(text: string): void
  /** Ends it, and tells the client why. Codes are those of WebSocket. */
  close(code: number, reason: string): void
  /** Ends it at once. */
  terminate(): void
  /** Asks the client whether it is still there. */
  ping(): void
  /** How many beats in a row a client may leave without a sign of life. */
  readonly patience: number
}
