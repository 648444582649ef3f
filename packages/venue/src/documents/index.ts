export { asyncApi, jsonSchemas } from './async-api.ts'
export { clientTypes } from './client-types.ts'
