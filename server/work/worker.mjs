// The entry of a thread. The sources are TypeScript; tsx reads them.
import { tsImport } from 'tsx/esm/api'

// One import for all of it: what is imported in several goes is there several times.
const { carryOut } = await tsImport('./carryOut.ts', import.meta.url)

export default carryOut
