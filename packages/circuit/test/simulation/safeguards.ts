import { readFileSync } from 'node:fs'
import { fileURLToPath } from 'node:url'
import { createServer } from 'vite'

/** A safeguard of the protocol, and the code without it. */
export interface Safeguard {
  readonly name: string
  readonly file: string
  readonly code: string
  readonly without: string
  /** The first history that is played without it: the ones before have not shown anything. Default: 1. */
  readonly from?: number
}
const PROTOCOL = 'src/protocol/'

export const safeguards: readonly Safeguard[] = [
  {
    name: 'a message names the one that it stands behind',
    file: `${PROTOCOL}publish.ts`,
    code: 'stream.publish(subject, id, text, expected)',
    without: 'stream.last(subject).then((last) => stream.publish(subject, id, text, last?.sequence ?? 0))',
  },
  {
    name: 'nothing leaves before it is safe',
    file: `${PROTOCOL}committer.ts`,
    code: 'else last.sends.push(send)',
    without: 'else send()',
  },
  {
    name: 'a lost answer is looked for',
    file: `${PROTOCOL}publish.ts`,
    code: 'const last = await stream.last(subject).catch(noAnswer)',
    without:
      'if (attempt < Infinity) return expected + 1\n    const last = await stream.last(subject).catch(noAnswer)',
  },
  {
    name: 'a message that is sent again has the same id',
    file: `${PROTOCOL}publish.ts`,
    code: 'stream.publish(subject, id, text, expected).catch(noAnswer)',
    without:
      '(async () => { const before = (await stream.last(subject))?.sequence ?? expected; return stream.publish(subject, id + attempt, text, before) })().catch(noAnswer)',
  },
  {
    name: 'one message is on its way at a time',
    file: `${PROTOCOL}committer.ts`,
    code: 'if (this.inFlight !== undefined || !this.hasBegun) return',
    without: 'if (!this.hasBegun) return',
  },
  {
    name: 'whoever finds the match taken stops',
    file: `${PROTOCOL}committer.ts`,
    code: 'this.stop()\n    fenced(other)\n    return undefined',
    without: "return typeof put === 'number' ? put : put.sequence",
  },
  {
    name: 'a match is announced before it is taken',
    file: `${PROTOCOL}circuit.ts`,
    code: "committer.claim('announce', 'take')",
    without: "committer.claim('take')",
    from: 164,
  },
  {
    name: 'nothing is written before a match is taken',
    file: `${PROTOCOL}circuit.ts`,
    code: "committer.claim('announce', 'take')",
    without:
      "committer.claim('announce').then(() => committer.say('lines')).then(() => committer.claim('take'))",
  },
  {
    name: 'whoever takes a match looks whether that counts',
    file: `${PROTOCOL}committer.ts`,
    code: 'while (OWNS.has(kind) && !this.isOver)',
    without: 'while (kind.length === 0)',
    from: 48,
  },
  {
    name: 'what stands behind no message that counts does not count',
    file: `${PROTOCOL}chain.ts`,
    code: ' || !this.sequences.has(message.after)',
    without: '',
  },
  {
    name: 'a message that is there twice is one',
    file: `${PROTOCOL}chain.ts`,
    code: 'if (stored.id === this.id) {',
    without: "if (stored.id === '') {",
  },
  {
    name: 'each owner has an epoch of its own',
    file: `${PROTOCOL}own-match.ts`,
    code: 'const epoch = before + 1',
    without: 'const epoch = Math.max(1, before)',
  },
  {
    name: 'a snapshot waits until its lines are safe',
    file: `${PROTOCOL}circuit-record.ts`,
    code: 'committer.whenSafe(() => void shelf.put(subject, text).then(done, failed))',
    without: 'void shelf.put(subject, text).then(done, failed)',
  },
  {
    name: 'lines that a snapshot covers are not played again',
    file: `${PROTOCOL}read-match.ts`,
    code: 'more.slice(Math.max(0, covered - from))',
    without: 'more',
  },
  {
    name: 'lines behind a snapshot are played',
    file: `${PROTOCOL}circuit.ts`,
    code: 'tail: found.tail,',
    without: 'tail: [],',
  },
  {
    name: 'what is sent again has the id of the first time',
    file: 'test/simulation/player.ts',
    code: "'tally.add', {}, { id })",
    without: "'tally.add', {}, {})",
  },
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
