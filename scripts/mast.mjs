// Finds the command that was asked for and runs it. Plain JavaScript: it runs before anything is installed.
import { complain } from './start/complain.mjs'
import { checkNode } from './start/requirements.mjs'

const usage = `Able Mast

  ./mast demo [--port N] [--fresh]     the demo, from a fresh machine on; --fresh starts it over
  ./mast start [--port N]              the same without demo data
  ./mast test [unit|conformance|e2e]   all tests, or some
  ./mast plan check FILE [--json]      findings of a plan
  ./mast plan matrix FILE [--json]     who reaches whom
  ./mast plan trace FILE --from X --to Y --service S [--json]
  ./mast plan export FILE --format json|equipment-csv|address-csv|run-sheet [--out DIR]
`

const [command, ...args] = process.argv.slice(2)
try {
  checkNode()
  switch (command) {
    case 'demo':
    case 'start':
      await (await import('./start/serve.mjs')).serve(command, args)
      break
    case 'test':
      process.exitCode = await (await import('./test/run.mjs')).test(args)
      break
    case 'plan':
      process.exitCode = await (await import('./plan.mjs')).plan(args)
      break
    case undefined:
    case 'help':
    case '--help':
      console.log(usage)
      break
    default:
      complain(`there is no command '${command}'\n\n${usage}`)
  }
} catch (error) {
  if (error?.name !== 'Complaint') throw error
  console.error(error.message)
  process.exitCode = 1
}
