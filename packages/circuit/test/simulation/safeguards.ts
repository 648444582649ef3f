import { readFileSync } from 'node:fs'
import { fileURLToPath } from 'node:url'
import { createServer } from 'vite'

/** A safeguard of the protocol, and the code without it. */
export interface Safeguard {
  readonly name: string
  readonly file: string
  readonly code: string
  readonly without: string
  /** The first history that is played without it: the ones before have not shown anything. */
  readonly from: number
}
type Change = readonly [code: string, without: string, from?: number]

const inFile = (file: string, changes: { readonly [name: string]: Change }): Safeguard[] =>
  Object.entries(changes).map(([name, [code, without, from = 1]]) => ({ name, file, code, without, from }))

export const safeguards: readonly Safeguard[] = [
  ...inFile('src/protocol/publish.ts', {
    'a message names the one that it stands behind': [
      'stream.publish(subject, id, text, expected)',
      'stream.last(subject).then((last) => stream.publish(subject, id, text, last?.sequence ?? 0))',
    ],
    'a lost answer is looked for': [
      'const last = await stream.last(subject).catch(noAnswer)',
      'if (attempt < Infinity) return expected + 1\n    const last = await stream.last(subject).catch(noAnswer)',
    ],
    'a message that is sent again has the same id': [
      'stream.publish(subject, id, text, expected).catch(noAnswer)',
      '(async () => { const before = (await stream.last(subject))?.sequence ?? expected; return stream.publish(subject, id + attempt, text, before) })().catch(noAnswer)',
    ],
  }),
  ...inFile('src/protocol/committer.ts', {
    'nothing leaves before it is safe': ['else last.sends.push(send)', 'else send()'],
    'one message is on its way at a time': [
      'if (this.inFlight !== undefined || !this.hasBegun) return',
      'if (!this.hasBegun) return',
    ],
    'whoever finds the match taken stops': [
      'this.stop()\n    fenced(other)\n    return undefined',
      "return typeof put === 'number' ? put : put.sequence",
    ],
    'whoever takes a match looks whether that counts': [
      'while (OWNS.has(kind) && !this.isOver)',
      'while (kind.length === 0)',
      48,
    ],
  }),
  ...inFile('src/protocol/circuit.ts', {
    'a match is announced before it is taken': [
      "committer.claim('announce', 'take')",
      "committer.claim('take')",
      164,
    ],
    'nothing is written before a match is taken': [
      "committer.claim('announce', 'take')",
      "committer.claim('announce').then(() => committer.say('lines')).then(() => committer.claim('take'))",
    ],
    'lines behind a snapshot are played': ['tail: found.tail,', 'tail: [],'],
  }),
  ...inFile('src/protocol/chain.ts', {
    'what stands behind no message that counts does not count': [
      ' || !this.sequences.has(message.after)',
      '',
    ],
    'a message that is there twice is one': ['if (stored.id === this.id) {', "if (stored.id === '') {"],
  }),
  ...inFile('src/protocol/own-match.ts', {
    'each owner has an epoch of its own': ['const epoch = before + 1', 'const epoch = Math.max(1, before)'],
  }),
  ...inFile('src/protocol/circuit-record.ts', {
    'a snapshot waits until its lines are safe': [
      'committer.whenSafe(() => void shelf.put(subject, text).then(done, failed))',
      'void shelf.put(subject, text).then(done, failed)',
    ],
  }),
  ...inFile('src/protocol/read-match.ts', {
    'lines that a snapshot covers are not played again': ['more.slice(Math.max(0, covered - from))', 'more'],
  }),
  ...inFile('test/simulation/player.ts', {
    'what is sent again has the id of the first time': ["'tally.add', {}, { id })", "'tally.add', {}, {})"],
  }),
]

const folder = fileURLToPath(new URL('../../', import.meta.url))
const conditions = ['source', 'module', 'node', 'development|production']

/** Returns what loads the simulation with the code of one safeguard replaced, and what ends that. */
export async function simulations(): Promise<{
  without(safeguard: Safeguard): Promise<(seed: number) => Promise<string | undefined>>
  close(): Promise<void>
}> {
  let left: Safeguard | undefined
  const server = await createServer({
    configFile: false,
    logLevel: 'silent',
    root: folder,
    resolve: { conditions },
    ssr: { resolve: { conditions } },
    server: { middlewareMode: true, watch: null, ws: false },
    optimizeDeps: { noDiscovery: true },
    plugins: [
      {
        name: 'without-a-safeguard',
        enforce: 'pre',
        transform(text, id) {
          if (left === undefined || id !== `${folder}${left.file}`) return undefined
          const { code, without } = left
          return text.replace(code, () => without)
        },
      },
    ],
  })
  const { moduleGraph } = server.environments.ssr
  return {
    async without(safeguard) {
      const { file, code } = safeguard
      if (readFileSync(`${folder}${file}`, 'utf8').split(code).length !== 2)
        throw new Error(`${file} has not one '${code}'`)
      left = safeguard
      // The rest, the engine above all, stays loaded: that took most of the time.
      for (const module of moduleGraph.idToModuleMap.values())
        if (module.id?.startsWith(folder)) moduleGraph.invalidateModule(module)
      const { historyOf } = await server.ssrLoadModule('/test/simulation/history.ts')
      return historyOf
    },
    close: () => server.close(),
  }
}
