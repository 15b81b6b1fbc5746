import { describe, expect, it, vi } from 'vitest'
import { FieldQueue, type Act, type ActKeep } from './fieldQueue'

class Kept implements ActKeep {
  acts = new Map<string, Act>()
  async load() {
    return [...this.acts.values()]
  }
  async put(act: Act) {
    this.acts.set(act.id, structuredClone(act))
  }
  async remove(id: string) {
    this.acts.delete(id)
  }
}
const tick = (id: string, stepId = id): Act => ({
  id,
  siteId: 's',
  at: '2026-11-24T09:00:00Z',
  tried: false,
  refused: null,
  kind: 'tick',
  stepId,
  acknowledged: true,
  note: '',
  waitMs: 0,
})
const untick = (id: string, stepId: string): Act => ({
  id,
  siteId: 's',
  at: '2026-11-24T09:01:00Z',
  tried: false,
  refused: null,
  kind: 'untick',
  stepId,
})
function queue(answer: (act: Act) => void = () => {}) {
  const sent: string[] = []
  const kept = new Kept()
  const q = new FieldQueue(
    kept,
    async (act) => {
      answer(act)
      sent.push(act.id)
    },
    () => {},
  )
  return { q, kept, sent }
}
const fail = (status?: number, message?: string): never => {
  throw Object.assign(new Error('x'), { status, data: { message } })
}

describe('field work', () => {
  it('is sent in order and kept no longer than needed', async () => {
    const { q, kept, sent } = queue()
    for (const id of ['a', 'b', 'c']) await q.add(tick(id))
    expect([sent, q.acts, kept.acts.size]).toEqual([['a', 'b', 'c'], [], 0])
  })
  it.each([undefined, 429, 401, 503])(
    'stays while the server is away (%s), and nothing overtakes it',
    async (status) => {
      let away = true
      const { q, kept, sent } = queue(() => {
        if (away) fail(status)
      })
      await q.add(tick('a'))
      await q.add(tick('b'))
      expect([sent, kept.acts.size, await q.flush()]).toEqual([[], 2, false])
      away = false
      const again = new FieldQueue(
        kept,
        async (act) => {
          sent.push(act.id)
        },
        () => {},
      )
      await again.load('s')
      expect([await again.flush(), sent, kept.acts.size]).toEqual([true, ['a', 'b'], 0])
    },
  )
  it(
    'what the server refuses stays with its reason, the rest goes on, and it can be sent again ' +
      'or discarded',
    async () => {
      let strict = true
      const { q, kept, sent } = queue((act) => {
        if (strict && act.id !== 'c') fail(422, 'first: the other step')
      })
      for (const id of ['a', 'b', 'c']) await q.add(tick(id))
      expect(q.acts.map((a) => [a.id, a.refused])).toEqual([
        ['a', 'first: the other step'],
        ['b', 'first: the other step'],
      ])
      expect([sent, kept.acts.get('a')!.refused]).toEqual([['c'], 'first: the other step'])
      strict = false
      await q.again('a')
      await q.discard('b')
      expect([sent, q.acts, kept.acts.size]).toEqual([['c', 'a'], [], 0])
    },
  )
  it('a tick that was never sent and is taken back was never there', async () => {
    const { q, kept, sent } = queue((act) => {
      if (act.id === 'before') fail()
    })
    await q.add(tick('before'))
    await q.add(tick('a', 'step'))
    await q.add(untick('b', 'step'))
    expect([q.acts.map((a) => a.id), [...kept.acts.keys()], sent]).toEqual([
      ['before'],
      ['before'],
      [],
    ])
    await q.add(untick('c', 'another'))
    expect(q.acts.map((a) => a.id)).toEqual(['before', 'c'])
  })
  it('a tick whose answer was lost is taken back on the server too, also after the browser was closed', async () => {
    const ticked = new Set<string>()
    let isLost = true
    const server = (act: Act): void => {
      if (act.kind === 'tick') ticked.add(act.stepId)
      if (act.kind === 'untick') ticked.delete(act.stepId)
      if (isLost) fail()
    }
    const { q, kept } = queue(server)
    await q.add(tick('a', 'step'))
    expect([...ticked]).toEqual(['step'])
    const later = new FieldQueue(
      kept,
      async (act) => server(act),
      () => {},
    )
    await later.load('s')
    isLost = false
    await later.add(untick('b', 'step'))
    expect([[...ticked], later.acts, kept.acts.size]).toEqual([[], [], 0])
  })
  it('a tick that the server refused is only forgotten', async () => {
    const { q, kept, sent } = queue((act) => {
      if (act.kind === 'tick') fail(422, 'first: the other step')
    })
    await q.add(tick('a', 'step'))
    await q.add(untick('b', 'step'))
    expect([q.acts, kept.acts.size, sent]).toEqual([[], 0, []])
  })
  it('what was discarded while it was under way does not come back', async () => {
    const kept = new Kept()
    let refuse = (): void => {}
    const q = new FieldQueue(
      kept,
      () =>
        new Promise((_, reject) => {
          refuse = () =>
            reject(Object.assign(new Error('x'), { status: 422, data: { message: 'no' } }))
        }),
      () => {},
    )
    const added = q.add(tick('a'))
    await vi.waitUntil(() => kept.acts.get('a')?.tried)
    await q.discard('a')
    refuse()
    await added
    expect([q.acts, kept.acts.size]).toEqual([[], 0])
  })
  it('is sent though the browser cannot keep it, and is known not to be kept until then', async () => {
    let away = true
    const { q, kept, sent } = queue(() => {
      if (away) fail()
    })
    kept.put = async () => {
      throw new Error('no room left')
    }
    await q.add(tick('a'))
    expect([...q.unkept]).toEqual(['a'])
    away = false
    expect([await q.flush(), sent, q.unkept.size]).toEqual([true, ['a'], 0])
  })
})
