// A venue of the tests in a process of its own, from what is built: name, servers, folder for ended matches, pace, port, most bytes.
import { openCircuit } from '@zinc-referee/circuit'
import { kettleWatch, musselDip, steppingStones } from '@zinc-referee/examples'
import { openVenue } from '@zinc-referee/venue'

const [, , name, servers, folder, pace, port, fullAt] = process.argv
const books = [steppingStones, musselDip, kettleWatch]
const plenty = { burst: 1e9, perSecond: 1e9 }
const circuit = await openCircuit({
  venue: name,
  servers: servers.split(','),
  modes: books.map((book) => book.name),
  records: folder,
  pace: JSON.parse(pace),
  fullAt: Number(fullAt),
  onReplaced: () => process.exit(3),
  log: {
    info() {},
    warn: (fields, text) => text.includes('cannot') && console.error(name, JSON.stringify(fields), text),
    error: (fields, text) => console.error(name, JSON.stringify(fields), text),
  },
})
const venue = await openVenue({
  circuit,
  port: Number(port),
  rulebooks: books,
  limits: { calls: plenty, joins: plenty, connectionsPerAddress: 1e6 },
  onFault: (fault) => console.error(JSON.stringify(fault)),
})
process.once('SIGTERM', () => venue.suspend().then(() => process.exit(0)))
process.once('disconnect', () => process.exit(0))
process.send({ port: venue.port })
