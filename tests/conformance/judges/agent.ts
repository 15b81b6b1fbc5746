/** A host in a network namespace, asked over its standard input; what it does is in agent.py. */
import { spawn, spawnSync, type ChildProcess } from 'node:child_process'
import { createInterface } from 'node:readline'

export interface Try {
  readonly id: string
  readonly protocol: 'tcp' | 'udp' | 'icmp'
  readonly port: number
  readonly address: string
}
export interface Datagram {
  readonly source: string
  readonly address: string
  readonly text: string
}

export function must(file: string, args: readonly string[], input?: string): string {
  const done = spawnSync(file, args, { encoding: 'utf8', input })
  if (done.status !== 0)
    throw new Error(`${file} ${args.slice(0, 6).join(' ')}: ${done.error?.message ?? done.stderr}`)
  return done.stdout
}
/** Many commands of ip(8) in one process. */
export const ip = (lines: readonly string[], namespace?: string): void =>
  void must('ip', [...(namespace ? ['-n', namespace] : []), '-batch', '-'], `${lines.join('\n')}\n`)

export class Agent {
  private readonly lines: AsyncIterator<string>
  private constructor(private readonly child: ChildProcess) {
    this.lines = createInterface({ input: child.stdout! })[Symbol.asyncIterator]()
  }

  static async start(
    namespace: string,
    ports: { tcp: readonly number[]; udp: readonly number[] },
    addresses: readonly string[],
  ): Promise<Agent> {
    const agent = new Agent(
      spawn(
        'ip',
        [
          'netns',
          'exec',
          namespace,
          'python3',
          `${import.meta.dirname}/agent.py`,
          JSON.stringify(ports),
          JSON.stringify(addresses),
        ],
        { stdio: ['pipe', 'pipe', 'inherit'] },
      ),
    )
    const first = await agent.next()
    if (!first.ready) throw new Error(`an agent said ${JSON.stringify(first)}`)
    return agent
  }
  private async next(): Promise<Record<string, unknown>> {
    const { value, done } = await this.lines.next()
    if (done) throw new Error('an agent ended')
    return JSON.parse(value) as Record<string, unknown>
  }
  private say(what: object): void {
    this.child.stdin!.write(`${JSON.stringify(what)}\n`)
  }

  async try(tries: readonly Try[]): Promise<Map<string, boolean>> {
    this.say({ tries })
    const out = new Map<string, boolean>()
    for (let line = await this.next(); !line.done; line = await this.next())
      out.set(line.id as string, line.works as boolean)
    return out
  }
  /** Datagrams from addresses that need not be its own. */
  async send(send: readonly Datagram[]): Promise<void> {
    this.say({ send })
    await this.next()
  }
  async heard(): Promise<readonly string[]> {
    this.say({ heard: true })
    return (await this.next()).heard as string[]
  }
  /** Addresses of those who connected over TCP since it was last asked. */
  async callers(): Promise<readonly string[]> {
    this.say({ callers: true })
    return (await this.next()).callers as string[]
  }
  stop(): void {
    this.child.stdin!.end()
    this.child.kill('SIGKILL')
  }
}
