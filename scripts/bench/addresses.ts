/**
 * Overlaps in a hundred thousand prefixes beside a sort of the same numbers and beside Python's
 * `ipaddress`; placing four thousand segments.
 */
import { spawnSync } from 'node:child_process'
import {
  allocate,
  containers,
  formatPrefix,
  packPrefixes,
  prefix,
  prefixAround,
  type Prefix,
  type SegmentNeed,
} from '@mast/core/addressing'
import { chanceOf } from '@mast/core/generator'
import { median, row, type Row } from './measure'

const PREFIXES = 100_000
const SEGMENTS = 4000
const ROUNDS = 9

const python = `
import ipaddress, sys, time
nets = [ipaddress.ip_network(line.strip()) for line in sys.stdin]
start = time.perf_counter()
held = 0
stack = []
for n in sorted(nets):
    while stack and not n.subnet_of(stack[-1]): stack.pop()
    if stack: held += 1
    stack.append(n)
print(held, (time.perf_counter() - start) * 1000)
`

function timed(run: () => void): number {
  const start = performance.now()
  run()
  return performance.now() - start
}

export function addresses(): Row[] {
  const chance = chanceOf(4)
  const list = Array.from({ length: PREFIXES }, (): Prefix =>
    prefixAround(
      {
        family: 4,
        value: BigInt(chance.between(0, 0xffff)) * 65_536n + BigInt(chance.between(0, 65_535)),
      },
      chance.between(8, 32),
    ),
  )
  const packed = packPrefixes(4, list)
  const keys = Float64Array.from(list, (p) => Number(p.network) * 64 + p.length)
  let held = 0
  const search = median(
    Array.from({ length: ROUNDS }, () =>
      timed(() => {
        held = containers(packed).reduce((n, c) => n + Number(c >= 0), 0)
      }),
    ),
  )
  const sort = median(
    Array.from({ length: ROUNDS }, () => {
      const copy = keys.slice()
      return timed(() => {
        copy.sort()
      })
    }),
  )
  const done = spawnSync('python3', ['-c', python], {
    input: list.map(formatPrefix).join('\n'),
    encoding: 'utf8',
    maxBuffer: 1 << 26,
  })
  if (done.status !== 0) throw new Error(`python3 failed: ${done.stderr}`)
  const [heldThere, pythonMs] = done.stdout.trim().split(' ').map(Number) as [number, number]
  if (heldThere !== held)
    throw new Error(`${held} of the prefixes lie in another here, ${heldThere} in Python`)

  const needs = Array.from({ length: SEGMENTS }, (_, i): SegmentNeed => ({
    id: `s${i}`,
    vlanId: i + 1,
    expectedHosts: chance.between(5, 400),
    growthPercent: 50,
    fixedAddresses: 4,
  }))
  const request = {
    space: [prefix('10.0.0.0/8')],
    avoid: [],
    gatewayPosition: 'first' as const,
    vlanNumbering: 'free' as const,
  }
  let first = allocate({ ...request, needs })
  const placing = median(
    Array.from({ length: 3 }, () =>
      timed(() => {
        first = allocate({ ...request, needs })
      }),
    ),
  )
  if (first.unplaced.length > 0) throw new Error(`${first.unplaced.length} segments found no room`)
  const placed = needs.map((n, i) => ({ ...n, current: first.allocations[i]!.subnet }))
  const again = median(
    Array.from({ length: 3 }, () =>
      timed(() => {
        if (allocate({ ...request, needs: placed }).moves.length > 0)
          throw new Error('planning again moved something')
      }),
    ),
  )
  return [
    row({
      name: 'overlaps in 100,000 prefixes',
      value: search,
      unit: 'ms',
      reference: 'a typed-array sort of the same, ms',
      referenceValue: sort,
      aim: 'at most 5 times the sort',
      met: (r) => r <= 5,
    }),
    row({
      name: 'overlaps, beside Python',
      value: search,
      unit: 'ms',
      reference: 'ipaddress, sorted and swept, ms',
      referenceValue: pythonMs,
      aim: 'at most a twentieth',
      met: (r) => r <= 1 / 20,
    }),
    row({
      name: 'placing 4,000 segments',
      value: placing,
      unit: 'ms',
      reference: 'the overlap search, ms',
      referenceValue: search,
      aim: 'listed',
      met: () => true,
    }),
    row({
      name: 'planning them again',
      value: again,
      unit: 'ms',
      reference: 'placing them, ms',
      referenceValue: placing,
      aim: 'listed',
      met: () => true,
    }),
  ]
}
