// Plays the README's own mode and puts what the demo prints back into the README.
import { execFileSync } from 'node:child_process'
import { mkdirSync, readFileSync, writeFileSync } from 'node:fs'
import { fileURLToPath } from 'node:url'

const root = fileURLToPath(new URL('..', import.meta.url))
const readme = readFileSync(`${root}README.md`, 'utf8')
const mode = /```ts\n(\/\/ duck-pond\.ts\n[\s\S]*?)```/.exec(readme)?.[1]
mkdirSync(`${root}records`, { recursive: true })
writeFileSync(`${root}records/duck-pond.ts`, mode)
const bin = `${root}packages/cli/bin/zinc-referee.js`
const shown = execFileSync(process.execPath, [bin, 'demo', '--rulebook', 'duck-pond.ts'], {
  cwd: `${root}records`,
  encoding: 'utf8',
  env: { ...process.env, NO_COLOR: '1' },
})
const wanted = shown.slice(shown.indexOf('rank ')).trim()
writeFileSync(
  `${root}README.md`,
  readme.replace(/```text\nrank [\s\S]*?```/, () => `\`\`\`text\n${wanted}\n\`\`\``),
)
