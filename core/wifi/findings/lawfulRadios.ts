/** C-35: channels and powers that the country of the site does not allow. */
import { editCall, settingsOf, type RadioSetting } from '../../plan'
import { widths, type Band } from '../../radio/bands'
import { isKept, lawfulChannels, lawOf } from '../../radio/lawful'
import { defineRule, type Fix } from '../../findings/rule'
import { planChannels, type ChannelPlan } from '../channels/plan'

const CHECK = 'Check with your regulator: what is kept here is from memory.'

export default defineRule({
  id: 'wifi/lawful-radios',
  severity: 'blocker',
  catches: ['C-35'],
  title: 'A radio is set to what its country does not allow',
  sheet: 'wifi',
  reads: ['site', 'devices', 'profiles', 'floors', 'walls', 'scans', 'wirelessNetworks'],
  *check(model) {
    const { country, wireless } = model.plan.site
    const set = model.devices.filter((d) => d.radios.some((r) => r.isOn && r.channel !== null))
    if (set.length > 0 && !isKept(country)) {
      yield {
        key: 'country',
        severity: 'caution',
        subjects: set.map((d) => d.id),
        text: `What ${country} allows on the air is not kept here: channels and powers are not checked.`,
        why: CHECK,
        fixes: [],
      }
      return
    }
    // One plan a band is enough for all that are to move.
    const plans = new Map<Band, ChannelPlan>()
    for (const device of set) {
      const profile = model.profileOf(device.id)
      if (profile.kind === 'bridge-radio' || profile.kind === 'host') continue
      const floor = device.place ? model.plan.floors[device.place.floorId] : undefined
      const isOutdoors = floor?.isOutdoors ?? false
      const settings = settingsOf(device, profile)
      const withOne = (n: number, changes: Partial<RadioSetting>) => [
        editCall('changeDevice', {
          id: device.id,
          changes: { radios: settings.map((s, i) => (i === n ? { ...s, ...changes } : s)) },
        }),
      ]
      for (const [n, setting] of settings.entries()) {
        const { band, channel, widthMhz, powerDbm } = setting
        if (!setting.isOn || channel === null) continue
        const law = lawOf(country, { band, primary: channel, widthMhz }, isOutdoors)
        const other = (): Fix[] => {
          const plan = plans.get(band) ?? planChannels(model, band, null, undefined, 2000)
          plans.set(band, plan)
          const to = plan.radios.find((r) => r.deviceId === device.id && r.radio === n)
          const narrow = widths
            .filter((w) => w <= widthMhz)
            .toReversed()
            .map((w) => lawfulChannels(country, band, w, isOutdoors, wireless.usesRadar)[0])
            .find((c) => c !== undefined)
          const found = to ? { primary: to.to, widthMhz: to.widthMhz } : narrow
          if (found)
            return [
              {
                label: `Set ${device.name} to channel ${found.primary} of ${found.widthMhz} MHz`,
                edits: withOne(n, { channel: found.primary, widthMhz: found.widthMhz }),
              },
            ]
          return [
            {
              label: `Switch ${band} GHz of ${device.name} off`,
              edits: withOne(n, { isOn: false }),
            },
          ]
        }
        if (!law.ok) {
          yield {
            key: `channel:${device.id}:${n}`,
            subjects: [device.id],
            text: `${device.name}, ${isOutdoors ? 'outdoors' : 'indoors'}: ${law.reason}.`,
            why: `Radar, satellites and others use what is closed. ${CHECK}`,
            fixes: other(),
          }
          continue
        }
        if (law.isRadar && !wireless.usesRadar)
          yield {
            key: `radar:${device.id}:${n}`,
            severity: 'caution',
            title: 'A channel shared with radar, which the site does not want',
            subjects: [device.id],
            text: `${device.name} is on channel ${channel}, where radios listen for radar first.`,
            why: 'It is silent for a minute or more after each start, and leaves when it hears one.',
            fixes: other(),
          }
        const gain = profile.air[n]!.gainDbi
        const eirp = (powerDbm ?? 0) + gain
        if (powerDbm !== null && eirp > law.limitDbm + 1e-9)
          yield {
            key: `power:${device.id}:${n}`,
            severity: 'caution',
            subjects: [device.id],
            text:
              `${device.name} is set to ${powerDbm} dBm in ${band} GHz; with its antenna of ` +
              `${gain} dBi that is ${round(eirp)} dBm, and ${round(law.limitDbm)} dBm are allowed ` +
              `on channel ${channel} in ${country}.`,
            why: `Told its country it stays at that, and the plan reckons with it; told none it does not. ${CHECK}`,
            numbers: [
              { label: 'set', value: `${round(eirp)} dBm`, how: `${powerDbm} dBm + ${gain} dBi` },
              { label: 'allowed', value: `${round(law.limitDbm)} dBm`, how: law.source },
            ],
            fixes: [
              {
                label: `Set ${device.name} to ${Math.floor(law.limitDbm - gain)} dBm`,
                edits: withOne(n, { powerDbm: Math.max(-10, Math.floor(law.limitDbm - gain)) }),
              },
            ],
          }
      }
    }
  },
})
const round = (n: number): number => Math.round(n * 10) / 10
