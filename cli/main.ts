/**
 * ./mast plan ...: the same computation without a server. Exit status: 0 clean, 1 blockers (or not
 * delivered), 2 unusable input.
 */
import { mkdirSync, readFileSync, writeFileSync } from 'node:fs'
import { join, resolve } from 'node:path'
import { parseArgs } from 'node:util'
import { decodeText, formats } from '@mast/core/formats'
import { MOST_CHARACTERS, parsePlanText } from '@mast/core/plan'
import { Unusable, verbs, type Options, type Outcome } from '@mast/core/verbs'

/**
 * Runs a command on the text of a plan; problems of the input come back as an outcome, not as an
 * exception.
 */
export function runCommand(
  name: string,
  text: string,
  options: Omit<Options, 'now'>,
  file = 'plan',
): Outcome {
  const verb = verbs.find((v) => v.name === name)
  if (!verb)
    return unusable([
      { reason: `there is no command '${name}'; known are ${verbs.map((v) => v.name).join(', ')}` },
    ])
  const parsed = parsePlanText(text)
  if (!parsed.ok)
    return {
      status: 2,
      json: { ok: false, problems: parsed.problems },
      text: parsed.problems
        .map(
          (p) =>
            `${file}:${p.line}:${p.column}: ${p.path.length > 0 ? `${p.path.join('.')}: ` : ''}${p.reason}`,
        )
        .join('\n'),
    }
  try {
    return verb.run(parsed.plan, { ...options, now: new Date() })
  } catch (error) {
    if (error instanceof Unusable) return unusable([{ reason: error.message }])
    throw error
  }
}

/** The text of a file, or why there is none. */
function readText(home: string, file: string): { text: string } | { unusable: Outcome } {
  let octets: Uint8Array
  try {
    octets = readFileSync(resolve(home, file))
  } catch (error) {
    const { code } = error as NodeJS.ErrnoException
    return {
      unusable: unusable([
        {
          reason: `${file} cannot be read${code === 'ENOENT' ? '; is the path right?' : ` (${code})`}`,
        },
      ]),
    }
  }
  const decoded = decodeText(octets, MOST_CHARACTERS)
  return 'text' in decoded
    ? decoded
    : {
        unusable: unusable([
          {
            ...decoded.problem,
            reason: `${file}:${decoded.problem.line}:${decoded.problem.column}: ${decoded.problem.reason}`,
          },
        ]),
      }
}

/** Control characters of a file would be obeyed by the terminal; they are shown instead. */
const shown = (text: string): string =>
  /* eslint-disable no-control-regex -- they are what is looked for */
  text.replace(
    /[\u0000-\u0008\u000b-\u001f\u007f-\u009f\u202a-\u202e\u2066-\u2069]/g,
    (c) => `\\u${c.charCodeAt(0).toString(16).padStart(4, '0')}`,
  )

const help = (): string =>
  [
    ...verbs.map((v) => `  ./mast plan ${v.name} ${v.usage}\n      ${v.about}`),
    '',
    'F is one of:',
    ...formats.map(
      (f) =>
        `  ${f.id.padEnd(14)} ${f.title} (${[f.write && 'written', f.read && 'read'].filter(Boolean).join(', ')})`,
    ),
  ].join('\n')

const unusable = (problems: { reason: string }[]): Outcome => ({
  status: 2,
  text: problems.map((p) => p.reason).join('\n'),
  json: { ok: false, problems },
})

function main(args: readonly string[]): number {
  const home = process.env.MAST_CWD ?? process.cwd()
  let parsed
  try {
    parsed = parseArgs({
      args: [...args],
      allowPositionals: true,
      options: {
        json: { type: 'boolean', default: false },
        from: { type: 'string' },
        to: { type: 'string' },
        service: { type: 'string' },
        dead: { type: 'string' },
        format: { type: 'string' },
        out: { type: 'string' },
      },
    })
  } catch (error) {
    console.error(error instanceof Error ? error.message : String(error))
    return 2
  }
  const [name = '', file, inputFile] = parsed.positionals
  if (name === 'help') {
    console.log(help())
    return 0
  }
  const { json, out, ...options } = parsed.values
  if (!file) {
    console.error(`./mast plan ${name || 'COMMAND'} needs the FILE of a plan`)
    return 2
  }
  const tell = (outcome: Outcome): number => {
    if (json) console.log(JSON.stringify(outcome.json, null, 2))
    else (outcome.status === 2 ? console.error : console.log)(shown(outcome.text))
    return outcome.status
  }
  const plan = readText(home, file)
  if ('unusable' in plan) return tell(plan.unusable)
  let input: Options['input']
  if (inputFile) {
    const read = readText(home, inputFile)
    if ('unusable' in read) return tell(read.unusable)
    input = { name: inputFile, text: read.text }
  }
  const outcome = runCommand(name, plan.text, { ...options, input }, file)
  if (!out || !outcome.files) return tell(outcome)
  const folder = resolve(home, out)
  try {
    mkdirSync(folder, { recursive: true })
    for (const [base, content] of Object.entries(outcome.files))
      writeFileSync(join(folder, base), content)
  } catch (error) {
    const { code } = error as NodeJS.ErrnoException
    return tell(
      unusable([{ reason: `${out} cannot be written (${code}); is there a file of that name?` }]),
    )
  }
  return tell({
    ...outcome,
    text: `Wrote ${Object.keys(outcome.files).join(', ')} into ${out}`,
  })
}

if (process.env.MAST_CLI === '1') process.exitCode = main(process.argv.slice(2))
