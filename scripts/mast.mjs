// Finds the command that was asked for and runs it. Plain JavaScript: it runs before anything is
// installed.
import { complain } from './start/complain.mjs'
import { checkNode } from './start/requirements.mjs'

const usage = `Able Mast

  ./mast demo [--port N] [--fresh]     the demo, from a fresh machine on; --fresh starts it over
  ./mast start [--port N] [--processes N]
                                       the same without demo data; several server processes take the ports from N on
  ./mast test [unit|conformance|e2e|attacks]
                                       all tests, or some; judges, load and fuzz run whole what is otherwise a sample
  ./mast bench [NAME ...] [--json]     benchmarks, each beside a reference of the same run
  ./mast backup FILE [--demo] [--passphrase-file F]
                                       everything into one file; the key of its secrets only under a passphrase
  ./mast restore FILE [--demo] [--replace] [--passphrase-file F]
  ./mast plan check FILE [--json]      findings of a plan
  ./mast plan matrix FILE [--json]     who reaches whom
  ./mast plan trace FILE --from X --to Y --service S [--json]
  ./mast plan export FILE --format F [--out DIR]
  ./mast plan import FILE OTHER [--format F] [--out DIR]
  ./mast plan help                     every format and command of a plan
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
    case 'backup':
    case 'restore':
      await (await import('./backup.mjs')).backupCommand(command, args)
      break
    case 'bench':
      process.exitCode = await (await import('./bench/run.mjs')).bench(args)
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
