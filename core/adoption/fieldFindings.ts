/** What is to be said of devices and their controller: factory passwords, serials, waits, drift. */
import type { Step } from '../bringup/step'
import type { DeviceFacts, FieldFacts } from '../field/facts'
import { nameOf, secondsSince, type FieldRule } from '../field/fieldRule'
import { isOlder } from '../field/isOlder'
import { cablePath } from '../topology'
import { listWords, roughDuration } from '../words'
import { clientName, drainingClients, octetsText, plannedClient } from './clients/draining'
import { timeServersOf } from './clock/clockServers'
import { controllerUrl } from './configuration'
import { waysOf } from './ways/ways'
import { REPORT_SECONDS, RETRY_SECONDS } from './timings'

/** It asks a moment after its start, and once more after a minute, s. */
const CLOCK_SET_SECONDS = 180

const inCharge = ['claimed', 'loading', 'in-service', 'drifted']

/** When a device got power, as far as anybody said so; null where nobody did. */
function powerMs(d: DeviceFacts, facts: FieldFacts, sheet: readonly Step[]): number | null {
  const gives = new Set(
    sheet.flatMap(({ id, action }) =>
      (action?.kind === 'plug' || (action?.kind === 'power' && action.on)) &&
      action.deviceIds.includes(d.deviceId)
        ? [id]
        : [],
    ),
  )
  const times = facts.steps.flatMap((s) => (gives.has(s.stepId) ? [s.doneMs] : []))
  if (d.state === 'powered') times.push(d.changedMs)
  return times.length > 0 ? Math.max(...times) : null
}

export const adoptionFieldRules: readonly FieldRule[] = [
  {
    id: 'field/factory-password',
    severity: 'blocker',
    catches: ['C-61'],
    title: 'A factory password is still in place',
    sheet: 'adopt',
    *check(model, facts) {
      const open = facts.devices.filter(
        (d) => d.factoryPassword === true && inCharge.includes(d.state),
      )
      if (open.length > 0)
        yield {
          subjects: open.map((d) => d.deviceId),
          text:
            `${listWords(open.map((d) => nameOf(model, d.deviceId)))} ` +
            `${open.length === 1 ? 'says that it still has' : 'say that they still have'} the ` +
            'password from the label.',
          why: 'Whoever can read the label, or a list of factory passwords, owns the device.',
          numbers: [
            {
              label: 'of those in charge',
              value: `${open.length} of ${facts.devices.filter((d) => inCharge.includes(d.state)).length}`,
              how: 'as each device reports itself',
            },
          ],
        }
    },
  },
  {
    id: 'field/serials',
    severity: 'blocker',
    catches: ['C-69'],
    title: 'Serials and devices do not add up',
    sheet: 'adopt',
    *check(model, facts) {
      const planned = model.devices.filter((d) => model.profileOf(d.id).adoptable)
      const claimed = facts.devices.filter((d) => d.claimed).length
      const count = {
        label: 'planned, claimed, strangers',
        value: `${planned.length}, ${claimed}, ${facts.foreign.length}`,
        how: 'counted before and after every claim and import',
      }
      for (const f of facts.foreign) {
        const meant = planned.find((d) => d.serial === f.nearest)
        if (!meant) continue
        yield {
          subjects: [meant.id],
          text: `A device calls as ${f.serial}; the plan has ${f.nearest} for ${meant.name}.`,
          why: 'One of the two was mistyped, and the device waits for ever.',
          numbers: [count],
          fixes: [
            {
              label: `Put ${f.serial} into the plan`,
              edits: [
                { name: 'changeDevice', args: { id: meant.id, changes: { serial: f.serial } } },
              ],
            },
          ],
        }
      }
      for (const d of facts.devices) {
        const device = model.plan.devices[d.deviceId]
        if (!device || d.callers.length < (d.claimed ? 1 : 2)) continue
        const who = listWords(
          d.callers.map((c) => `${c.address} (${c.hardwareAddress}, ${c.model})`),
        )
        yield {
          subjects: [device.id],
          text: d.claimed
            ? `${who} calls under the serial ${device.serial} of ${device.name}, which is claimed.`
            : `${d.callers.length} devices call under the serial ${device.serial} of ${device.name}: ${who}.`,
          why: d.claimed
            ? 'It gets nothing as long as the claimed one answers. Either the device was reset ' +
              'and lost its memory, and gets its place back when it has been silent, or ' +
              'somebody uses its serial.'
            : 'A claim would hand the keys of the site to one of them. It is refused until ' +
              'only one calls: switch off the one that is not yours.',
          numbers: [
            {
              label: 'calling since',
              value: listWords(
                d.callers.map(
                  (c) => `${roughDuration(((facts.nowMs - c.sinceMs) / 1000) * facts.clockSpeed)}`,
                ),
              ),
              how: 'the first of them counts, as long as it calls',
            },
          ],
        }
      }
      for (const d of facts.devices) {
        const device = model.plan.devices[d.deviceId]
        if (device && d.model !== null && d.model !== device.profileId)
          yield {
            subjects: [device.id],
            text:
              `${device.serial} is a ${d.model}; the plan has ${device.name} as ` +
              `${model.profileOf(device.id).name}.`,
            why: 'Its ports and limits are others, and the configuration for it does not fit.',
            numbers: [count],
          }
      }
    },
  },
  {
    id: 'field/waiting',
    severity: 'note',
    catches: ['C-70'],
    title: 'Waiting for a device to call',
    sheet: 'adopt',
    *check(model, facts, sheet) {
      // Without a controller nobody claims and nobody calls.
      if (!model.hasController) return
      for (const d of facts.devices) {
        if (!model.plan.devices[d.deviceId] || !['powered', 'claimed'].includes(d.state)) continue
        const { bootSeconds } = model.profileOf(d.deviceId).waits
        // Claimed in its box it waits for nothing but power: the clock starts there.
        const starts = d.state === 'powered' || d.lastHeardMs === null
        const sinceMs = starts ? powerMs(d, facts, sheet) : d.changedMs
        if (sinceMs === null) continue
        const usual = (starts ? bootSeconds * 1.2 : 0) + RETRY_SECONDS + REPORT_SECONDS
        const waited = secondsSince(sinceMs, facts)
        const numbers = [
          { label: 'waited', value: roughDuration(waited) },
          {
            label: 'usual',
            value: `up to ${roughDuration(usual)}`,
            how: starts
              ? 'start-up from its profile and a fifth, then its next call'
              : 'its next call',
          },
        ]
        const device = nameOf(model, d.deviceId)
        if (waited <= usual)
          yield {
            subjects: [d.deviceId],
            text: `${device} is ${d.state} and has not called since. Nothing is wrong: it calls by itself.`,
            why: 'Starting it again now only makes the wait longer.',
            numbers,
          }
        else if (waited > usual * 3)
          yield {
            severity: 'caution',
            subjects: [d.deviceId],
            text: `${device} is ${d.state} and should have called by now.`,
            why: 'This is no longer waiting: look at its lamp, its address, its way to the controller.',
            numbers,
          }
      }
    },
  },
  {
    id: 'field/claim-prerequisites',
    severity: 'caution',
    catches: ['C-71'],
    title: 'Something that claiming by serial needs is missing',
    sheet: 'adopt',
    *check(model, facts) {
      // Without a controller nobody claims and nobody calls.
      if (!model.hasController) return
      for (const d of facts.devices) {
        const device = model.plan.devices[d.deviceId]
        if (!device || d.claimed || d.state === 'in-service') continue
        const profile = model.profileOf(device.id)
        const missing: string[] = []
        if (
          d.state === 'seen' &&
          d.factoryPassword === false &&
          d.firmware !== null &&
          !facts.steps.some((s) => s.stepId === `${device.id}.password`)
        )
          missing.push('it was set up before: put it back to its factory state')
        if (
          d.firmware !== null &&
          profile.firmware.minimum &&
          isOlder(d.firmware, profile.firmware.minimum)
        )
          missing.push(
            `its firmware ${d.firmware} is older than ${profile.firmware.minimum}, the least that can be claimed`,
          )
        if (device.addressing.mode === 'fixed' && profile.kind !== 'gateway')
          missing.push('its address is typed in; it needs an automatic one until it is claimed')
        if (profile.kind !== 'gateway' && cablePath(model, device.id)) {
          const { url, ways, then } = waysOf(model, device.id)
          if (url && !ways.some((w) => w.works))
            missing.push(
              `it has no way to the controller: ${ways.find((w) => w.kind === 'typed')!.because}`,
            )
          else if (then && !then.works)
            missing.push(
              `once it speaks from ${then.segment.name} it has no way to the controller: ${then.because}`,
            )
        }
        if (missing.length > 0)
          yield {
            subjects: [device.id],
            text: `${device.name}: ${missing.join('; ')}.`,
            why: 'The claim would be taken, and the device would never answer to it.',
          }
      }
    },
  },
  {
    id: 'field/managed-elsewhere',
    severity: 'blocker',
    catches: ['C-72'],
    title: 'A device is managed elsewhere already',
    sheet: 'adopt',
    *check(model, facts) {
      // Without a controller nobody claims and nobody calls.
      if (!model.hasController) return
      for (const d of facts.devices)
        if (!model.plan.devices[d.deviceId]) continue
        else if (d.claimedElsewhere)
          yield {
            subjects: [d.deviceId],
            text:
              `${nameOf(model, d.deviceId)} (${model.device(d.deviceId).serial}) is ` +
              'claimed by another site of this controller.',
            why: 'It follows that site until somebody there gives it up, or it is put back to its factory state.',
          }
        else if (d.plannedElsewhere)
          yield {
            severity: 'caution',
            subjects: [d.deviceId],
            text:
              'Another site of this controller has the serial ' +
              `${model.device(d.deviceId).serial} of ${nameOf(model, d.deviceId)} in ` +
              'its plan too.',
            why: d.claimed
              ? 'They see that it is claimed here. One of the two plans has a serial that is not its own.'
              : 'Whoever claims it first has it, once it calls. Compare the label with the ' +
                'plan, letter by letter, before you do.',
          }
    },
  },
  {
    id: 'field/controller-address',
    severity: 'note',
    catches: ['C-73'],
    title: 'Only the exact controller address works',
    sheet: 'adopt',
    *check(model, facts) {
      const url = controllerUrl(model)
      const waiting = facts.devices.filter((d) => ['planned', 'powered'].includes(d.state))
      if (!url || model.plan.controller.discovery === 'dhcp-option' || waiting.length === 0) return
      yield {
        subjects: waiting.map((d) => d.deviceId),
        text: `Where it has to be typed, it is ${url}: no path, no slash at the end.`,
        why: 'A device takes a longer address without a word and then calls nobody.',
      }
    },
  },
  {
    id: 'field/draining-client',
    severity: 'caution',
    catches: [],
    title: 'One client takes the line from the others',
    sheet: 'adopt',
    *check(model, facts) {
      for (const d of drainingClients(model, facts.clients, facts.clockSpeed)) {
        const planned = plannedClient(model, d.client.hardwareAddress)
        const mbps = (n: number): string => `${Number(n.toPrecision(2))} Mbit/s`
        yield {
          key: `${d.client.hardwareAddress} ${d.way}`,
          subjects: planned ? [planned.id] : [],
          text:
            `${clientName(model, d.client)} has ${d.way === 'down' ? 'fetched' : 'sent'} ` +
            `${octetsText(d.octets)} in the last hour: ` +
            `${Math.round((100 * d.meanMbps) / d.lineMbps)} % of what ${model.wayOut!.name} carries.`,
          why:
            'Everybody else waits behind it. Ask whose it is; in Clients it can be held to a speed, or ' +
            'shut out and let back.',
          numbers: [
            { label: 'in the mean of the hour', value: mbps(d.meanMbps) },
            { label: 'the line', value: mbps(d.lineMbps), how: `${d.way}, as handed over` },
          ],
        }
      }
    },
  },
  {
    id: 'field/clock-unset',
    severity: 'caution',
    catches: ['C-67'],
    title: 'A clock that nobody has set',
    sheet: 'adopt',
    *check(model, facts) {
      for (const d of facts.devices) {
        const device = model.plan.devices[d.deviceId]
        // It has to start, and to ask; a moment later it knows.
        if (!device || d.state !== 'in-service' || d.clock?.from !== null) continue
        if (secondsSince(d.changedMs, facts) < CLOCK_SET_SECONDS) continue
        const asked = timeServersOf(model, device)
        const told = asked.flatMap((s) => s.address ?? 'a server on the internet')
        const why = asked.find((s) => s.whyNot !== null)?.whyNot
        yield {
          subjects: [d.deviceId],
          text: `The clock of ${device.name} stands as it started: ${listWords(told)} did not tell it the time.`,
          why:
            (why
              ? `By the plan: ${why}. `
              : 'By the plan it should be answered: is the server on? ') +
            'Until then its log is of no use, certificates look expired, and what goes by the hour is wrong.',
          numbers: [{ label: 'zone', value: d.clock.zone }],
        }
      }
    },
  },
  {
    id: 'field/stale-status',
    severity: 'caution',
    catches: ['C-74'],
    title: 'Never connected, though its neighbour says otherwise',
    sheet: 'adopt',
    *check(model, facts) {
      const reports = new Map(facts.devices.map((d) => [d.deviceId, d]))
      for (const d of facts.devices) {
        const device = model.plan.devices[d.deviceId]
        if (!device || !['planned', 'powered', 'claimed', 'lost'].includes(d.state)) continue
        const witness = model.portsOf(device.id).flatMap((p) => {
          const peer = model.peerOf(p.id)
          const seen = peer && reports.get(peer.deviceId)?.ports.find((x) => x.name === peer.name)
          return peer &&
            seen?.up &&
            (device.hardwareAddress === null || seen.heard.includes(device.hardwareAddress))
            ? [peer]
            : []
        })[0]
        if (witness)
          yield {
            subjects: [device.id, witness.id],
            text:
              `${device.name} is ${d.state} here, but ${model.portName(witness.id)} ` +
              `${device.hardwareAddress ? `hears ${device.hardwareAddress}` : 'has a signal'}.`,
            why:
              'The status may be old or the device may not find the controller: wait one ' +
              'interval, look again, then look at its address and its way to the controller.',
            numbers: [
              {
                label: 'last call',
                value:
                  d.lastHeardMs === null
                    ? 'never'
                    : `${roughDuration(((facts.nowMs - d.lastHeardMs) / 1000) * facts.clockSpeed)} ago`,
              },
            ],
          }
      }
    },
  },
  {
    id: 'field/drift',
    severity: 'caution',
    catches: ['C-75'],
    title: "A device was changed behind the controller's back",
    sheet: 'adopt',
    *check(model, facts) {
      for (const d of facts.devices) {
        if (d.state !== 'drifted' || !model.plan.devices[d.deviceId]) continue
        const { wanted } = model.profileOf(d.deviceId).firmware
        const what =
          d.firmware !== null && d.firmware !== wanted
            ? `firmware ${d.firmware} instead of ${wanted}`
            : 'another configuration than was sent to it'
        yield {
          subjects: [d.deviceId],
          text: `${nameOf(model, d.deviceId)} runs ${what}.`,
          why:
            'Load what was sent into it again, or take the change over into the plan and send ' +
            'that; until then nobody knows what is true.',
          numbers: [{ label: 'for', value: roughDuration(secondsSince(d.changedMs, facts)) }],
        }
      }
    },
  },
]
