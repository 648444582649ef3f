import type { ObjectStore } from '@nats-io/obj'
import type { Shelf } from '../protocol/ports.ts'
import { NoAnswer, within } from './within.ts'

/** How long a text may take, in ms. */
const PATIENCE = 5000
const [encoder, decoder] = [new TextEncoder(), new TextDecoder()]

/** Returns the shelf of a circuit: an object store. */
export function natsShelf(store: ObjectStore): Shelf {
  return {
    async put(name, text) {
      await within(PATIENCE, store.putBlob({ name }, encoder.encode(text)))
    },
    async get(name) {
      try {
        const bytes = await within(PATIENCE, store.getBlob(name))
        return bytes === null ? undefined : decoder.decode(bytes)
      } catch (error) {
        if (error instanceof NoAnswer) throw error
        return undefined // what does not fit its digest is as good as gone
      }
    },
    async remove(name) {
      await within(PATIENCE, store.delete(name))
    },
  }
}
