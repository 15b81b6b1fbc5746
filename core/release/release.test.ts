import { describe, expect, it } from 'vitest'
import { desiredConfiguration } from '../adoption'
import { applyEdits, type EditCall, type SitePlan } from '../plan'
import { siteModel } from '../topology'
import { dunlinSlipway } from '../../demo/dunlinSlipway'
import {
  cutsSender,
  isQuiet,
  judgeWave,
  physicalPlan,
  previewRelease,
  releasedDocuments,
  waveTimes,
  type Told,
  type Wave,
  type WaveMember,
} from '.'

const secrets = { 'wifi-slip-wifi': 'seagull-on-the-bollard' }
const live = ['gateway', 'switch', 'hut-ap']
const before = dunlinSlipway()
const told = (plan: SitePlan): Told[] =>
  releasedDocuments(siteModel(plan), secrets).documents.map(
    ({ deviceId, digest, firmware, configuration }) => ({
      deviceId,
      digest,
      firmware,
      configuration,
    }),
  )
const preview = (edits: EditCall[], heard = live): ReturnType<typeof previewRelease>['preview'] =>
  previewRelease(before, applyEdits(before, edits), secrets, told(before), heard).preview

describe('a release before it is sent', () => {
  it('of an unchanged plan changes nothing', () => {
    expect(preview([])).toMatchObject({
      changes: [],
      same: 3,
      waves: [],
      pairs: [],
      leases: [],
      byHand: [],
      lockOuts: [],
      heldBack: [],
    })
  })
  it('tells of keys that are soon guessed, and not what they are', () => {
    const weak = (key: string): readonly string[] =>
      previewRelease(before, before, { 'wifi-slip-wifi': key }, told(before), live).preview.weakKeys
    expect(weak('k7mq-x3hw-9tzn-b4vd')).toEqual([])
    const [text, ...more] = weak('dunlin-2026')
    expect(more).toEqual([])
    expect(text).toMatch(/^The key of '.+' is weak \(C-31\): guessed within/)
    expect(text).not.toContain('dunlin-2026')
  })
  it('is what devices are told otherwise too', () => {
    for (const d of releasedDocuments(siteModel(before), secrets).documents) {
      const outcome = desiredConfiguration(siteModel(before), d.deviceId, secrets)
      expect(outcome).toMatchObject({ ok: true, desired: { digest: d.digest } })
    }
  })
  it('lets those who carry each other load at one moment, and others one by one', () => {
    expect(
      preview([{ name: 'changeSegment', args: { id: 'management', changes: { vlanId: 77 } } }])
        .waves,
    ).toEqual([['gateway', 'switch', 'hut-ap']])
    // The others have the name of the switch at their sockets.
    expect(
      preview([
        { name: 'changeDevice', args: { id: 'hut-ap', changes: { name: 'Hut AP 2' } } },
        {
          name: 'changeWirelessNetwork',
          args: { id: 'slip-wifi', changes: { name: 'High Water' } },
        },
      ]).waves,
    ).toEqual([['hut-ap'], ['switch']])
  })
  it('waits for nobody who is not heard', () => {
    const p = preview(
      [{ name: 'changeSegment', args: { id: 'management', changes: { vlanId: 77 } } }],
      ['gateway', 'switch'],
    )
    expect(p.waves).toEqual([['gateway', 'switch']])
    expect(p.changes.find((c) => c.deviceId === 'hut-ap')).toMatchObject({ isLive: false })
  })
  it('tells who gains and who loses what', () => {
    const p = preview([
      {
        name: 'stateIntent',
        args: {
          id: 'stated',
          from: 'visitors',
          to: 'crew',
          services: ['svc-web'],
          action: 'allow',
        },
      },
    ])
    expect(p.pairs).toEqual([
      { from: 'Visitors', to: 'Crew', gained: [before.services['svc-web']!.name], lost: [] },
    ])
    const back = previewRelease(
      applyEdits(before, [
        {
          name: 'stateIntent',
          args: {
            id: 'stated',
            from: 'visitors',
            to: 'crew',
            services: ['svc-web'],
            action: 'allow',
          },
        },
      ]),
      before,
      secrets,
      told(before),
      live,
    ).preview
    expect(back.pairs).toEqual([
      { from: 'Visitors', to: 'Crew', gained: [], lost: [before.services['svc-web']!.name] },
    ])
  })
  it('tells whose clients need another lease, and by when they have it', () => {
    const p = preview([
      { name: 'setSubnet', args: { segmentId: 'visitors', subnet: '10.44.96.0/24' } },
    ])
    expect(p.leases).toMatchObject([
      { segment: 'Visitors', withinSeconds: before.segments.visitors!.leaseSeconds },
    ])
    expect(p.leases[0]!.why).toContain('10.44.96.0/24')
  })
  it.each<[string, EditCall[], RegExp]>([
    [
      'a socket that no longer carries its segment',
      [{ name: 'setUntagged', args: { segmentId: 'visitors', portIds: ['switch.2'] } }],
      /Hut AP would no longer find the controller: .*Have both ends/,
    ],
    [
      'leases that nobody hands out any more',
      [
        {
          name: 'changeSegment',
          args: { id: 'management', changes: { dhcp: { mode: 'off', relayTo: null } } },
        },
      ],
      /Hut switch would no longer find the controller after its next start: nobody hands out leases.*fixed address/,
    ],
    [
      'a page in a segment that may not reach it',
      [
        {
          name: 'changeDevice',
          args: {
            id: 'hut-ap',
            changes: {
              addressing: {
                mode: 'automatic',
                segmentId: 'visitors',
                address: null,
                gateway: null,
              },
            },
          },
        },
      ],
      /Hut AP would no longer find the controller: .*Let its segment reach/,
    ],
  ])('is held back for %s, with the way around it', (_, edits, words) => {
    expect(preview(edits).heldBack.join('\n')).toMatch(words)
  })
  it('is held back where all would wait for a cable that is moved', () => {
    const free = before.ports['switch.6'] ? 'switch.6' : 'switch.7'
    const link = Object.values(before.links).find((l) => [l.a, l.b].includes('controller.eth0'))!
    const from = link.a === 'controller.eth0' ? link.b : link.a
    const moved = preview([
      { name: 'movePlug', args: { linkId: link.id, fromPortId: from, toPortId: free } },
      { name: 'setUntagged', args: { segmentId: 'management', portIds: [free] } },
    ])
    expect(moved.byHand.join()).toMatch(/Take out the cable .*Put in a cable/)
    expect(moved.heldBack.join()).toMatch(/Prepare the new socket and send that/)
  })
  it('says what no document does', () => {
    const hands = preview([{ name: 'setController', args: { port: 8099 } }]).byHand
    expect(hands).toEqual([expect.stringMatching(/answers on port 8099 instead of 8043/)])
  })
  it('is held back by a blocker on the plan', () => {
    expect(
      preview([{ name: 'removeTag', args: { segmentId: 'visitors', portIds: ['switch.2'] } }])
        .heldBack[0],
    ).toMatch(/^A blocker stands on the plan/)
  })
})

describe('whoever sends', () => {
  const crew = before.segments.crew!
  const address = crew.fixedBlock!.first
  const known = applyEdits(before, [
    {
      name: 'changeDevice',
      args: {
        id: 'crew-desk',
        changes: {
          addressing: { mode: 'fixed', segmentId: 'crew', address, gateway: crew.gateway },
        },
      },
    },
    {
      name: 'addService',
      args: { id: 'svc-planner', name: 'planner', protocol: 'tcp', ports: [7390] },
    },
    {
      name: 'stateFirst',
      args: {
        id: 'plans',
        from: 'crew',
        to: 'management',
        service: 'svc-planner',
        action: 'allow',
        reason: '',
      },
    },
  ])
  const sender = { address, port: 7390 }
  const cut = (edits: EditCall[], by = sender): boolean =>
    cutsSender(known, applyEdits(known, edits), by) !== undefined
  const denied = (from: string, to: string): EditCall => ({
    name: 'stateFirst',
    args: { id: 'no', from, to, service: 'any', action: 'deny', reason: '' },
  })
  it('is told where the way to the controller goes: of the segment, of the very host, to the very host', () => {
    expect([
      cut([]),
      cut([denied('crew', 'management')]),
      cut([denied('crew-desk', 'management')]),
      cut([denied('crew', 'controller')]),
    ]).toEqual([false, true, true, true])
  })
  it('is not told of what keeps out somebody else', () => {
    expect(
      cut([denied('crew-desk', 'management')], { address: crew.pools[0]!.last, port: 7390 }),
    ).toBe(false)
  })
})

describe('a change of a document', () => {
  const plain = { name: 'S', ports: [{ name: '1', untagged: 10 }], controllerUrl: null }
  it('are quiet where no way to the controller depends on the change', () => {
    expect([
      isQuiet(plain, { ...plain, name: 'T' }),
      isQuiet(plain, { ...plain, ports: [] }),
      isQuiet(null, plain),
    ]).toEqual([true, false, false])
  })
})

describe('a wave', () => {
  const times = waveTimes([{ bootSeconds: 60, firmwareSeconds: 200, applySeconds: 20 }], false)
  const member = (m: Partial<WaveMember> = {}): WaveMember => ({
    deviceId: 'a',
    heldAtMs: null,
    appliedAtMs: null,
    wentBack: false,
    ...m,
  })
  const wave = (w: Partial<Wave>): Wave => ({
    openedAtMs: 0,
    applyAtMs: null,
    members: [member()],
    witnesses: [],
    ...w,
  })
  it('waits until all hold the new, then names one moment', () => {
    expect(
      judgeWave(
        wave({ members: [member({ heldAtMs: 5 }), member({ deviceId: 'b' })] }),
        times,
        1000,
        1,
      ),
    ).toEqual({ kind: 'wait' })
    expect(judgeWave(wave({ members: [member({ heldAtMs: 5 })] }), times, 1000, 1)).toEqual({
      kind: 'apply',
      atMs: 1000 + times.leadSeconds * 1000,
    })
    expect(judgeWave(wave({}), times, times.holdSeconds * 1000 + 1, 1)).toMatchObject({
      kind: 'back',
      deviceIds: ['a'],
    })
  })
  it('keeps when all are back and everybody else was heard after the last of them', () => {
    const members = [
      member({ heldAtMs: 5, appliedAtMs: 90_000 }),
      member({ deviceId: 'b', heldAtMs: 5, appliedAtMs: 95_000 }),
    ]
    const at = (heardAtMs: number) =>
      judgeWave(
        wave({ applyAtMs: 60_000, members, witnesses: [{ deviceId: 'w', heardAtMs }] }),
        times,
        100_000,
        1,
      )
    expect([at(94_000).kind, at(96_000).kind]).toEqual(['wait', 'keep'])
  })
  it('goes back where one is missing, one went back or somebody else fell silent, each by name', () => {
    const late = 60_000 + times.trialSeconds * 1000
    expect(
      judgeWave(wave({ applyAtMs: 60_000, members: [member({ heldAtMs: 5 })] }), times, late, 1),
    ).toMatchObject({ kind: 'back', deviceIds: ['a'] })
    expect(
      judgeWave(
        wave({ applyAtMs: 60_000, members: [member({ heldAtMs: 5, wentBack: true })] }),
        times,
        61_000,
        1,
      ),
    ).toMatchObject({ kind: 'back', deviceIds: ['a'] })
    expect(
      judgeWave(
        wave({
          applyAtMs: 60_000,
          members: [member({ heldAtMs: 5, appliedAtMs: 90_000 })],
          witnesses: [{ deviceId: 'w', heardAtMs: 80_000 }],
        }),
        times,
        late,
        1,
      ),
    ).toMatchObject({ kind: 'back', deviceIds: ['w'] })
  })
  it('is not kept so late that one might have gone back before it hears of it', () => {
    expect(
      judgeWave(
        wave({ applyAtMs: 0, members: [member({ heldAtMs: 0, appliedAtMs: 1 })] }),
        times,
        times.trialSeconds * 1000 - 1,
        1,
      ).kind,
    ).toBe('back')
  })
  it('counts in the time of its devices', () => {
    expect(judgeWave(wave({}), times, 1000, 1000).kind).toBe('back')
  })
  it('that goes over to another controller is through when nobody is heard here after their trials', () => {
    const applyAtMs = 60_000
    const ms = (trials: number): number => applyAtMs + trials * times.trialSeconds * 1000
    const over = (m: Partial<WaveMember>, atMs: number) =>
      judgeWave(
        wave({ goesOver: true, applyAtMs, members: [member({ heldAtMs: 5, ...m })] }),
        times,
        atMs,
        1,
      )
    expect(over({ heardAtMs: 59_000 }, ms(1.5))).toEqual({ kind: 'wait' })
    expect(over({ heardAtMs: 59_000 }, ms(2) + 1)).toEqual({ kind: 'keep' })
    expect(over({ heardAtMs: ms(1.2) }, ms(2) + 1)).toMatchObject({
      kind: 'back',
      why: expect.stringMatching(/the other controller did not take it/) as string,
    })
    expect(over({ wentBack: true }, ms(1.1))).toMatchObject({ kind: 'back' })
    expect(over({ appliedAtMs: ms(0.5) }, ms(0.6))).toMatchObject({
      kind: 'back',
      why: 'called here while it tried the new address',
    })
  })
})

it('the ground follows the release, its labels the plan', () => {
  const head = applyEdits(before, [
    {
      name: 'changeDevice',
      args: { id: 'switch', changes: { serial: 'AM-SWI-00001', name: 'Another' } },
    },
    { name: 'removeDevice', args: { id: 'tide-board' } },
  ])
  const ground = physicalPlan(head, before)
  expect([
    ground.devices.switch!.serial,
    ground.devices.switch!.name,
    'tide-board' in ground.devices,
  ]).toEqual(['AM-SWI-00001', before.devices.switch!.name, true])
  expect(ground.links).toBe(before.links)
  expect(physicalPlan(head, null)).toBe(head)
})
