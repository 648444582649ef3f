// Builds the packages in the order of their references, then the page.
import { execFileSync } from 'node:child_process'
import { fileURLToPath } from 'node:url'

const root = fileURLToPath(new URL('..', import.meta.url))
const bin = (name) => fileURLToPath(new URL(`../node_modules/.bin/${name}`, import.meta.url))
const run = (command, args) => execFileSync(command, args, { cwd: root, stdio: 'inherit' })

run(bin('tsc'), ['-b'])
for (const app of ['page', 'desk']) run(bin('tsc'), ['-p', `examples/${app}`])
for (const app of ['page', 'desk']) run(bin('vite'), ['build', '--config', `examples/${app}/vite.config.ts`])
