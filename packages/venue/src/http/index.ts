export { httpServer } from './http-server.ts'
export { isOwnHost } from './own-host.ts'
