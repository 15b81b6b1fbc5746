/** C-32: security that is broken or left open, and security that those who are there do not know. */
import { editCall, settingsOf, type Security, type WirelessNetwork } from '../../plan'
import { defineRule, type Fix } from '../../findings/rule'
import { listWords } from '../../words'

export default defineRule({
  id: 'wifi/old-security',
  severity: 'blocker',
  catches: ['C-32'],
  title: 'Obsolete security',
  sheet: 'wifi',
  reads: ['wirelessNetworks', 'clientTypes', 'areas', 'devices', 'profiles'],
  *check(model) {
    const { plan } = model
    const used = new Set(Object.values(plan.areas).flatMap((a) => a.clientTypeId ?? []))
    const old = Object.values(plan.clientTypes).filter((c) => used.has(c.id) && !c.knowsWpa3)
    const oldWords = listWords(old.map((c) => c.name))
    for (const w of Object.values(plan.wirelessNetworks)) {
      const set = (security: Security, label: string): Fix => ({
        label,
        edits: [
          editCall('changeWirelessNetwork', {
            id: w.id,
            changes: { security, ...(w.keyRef ? {} : { keyRef: `wifi-${w.id}` }) },
          }),
        ],
      })
      if (w.security === 'wep')
        yield {
          key: `wep:${w.id}`,
          subjects: [w.id],
          text: `'${w.name}' is protected by WEP, which is read within minutes.`,
          why: 'Its key follows from what is heard on the air (withdrawn from IEEE 802.11 in 2004).',
          fixes: [set('wpa2-wpa3', 'Protect it by WPA2 and WPA3')],
        }
      if (w.security === 'wpa-wpa2')
        yield {
          key: `wpa:${w.id}`,
          severity: 'caution',
          subjects: [w.id],
          text: `'${w.name}' lets in who knows no better than WPA with TKIP.`,
          why: 'All broadcasts are then protected by TKIP alone, and nobody is faster than 54 Mbit/s.',
          fixes: [
            set(
              old.length > 0 ? 'wpa2' : 'wpa2-wpa3',
              old.length > 0 ? 'WPA2 alone' : 'WPA2 and WPA3',
            ),
          ],
        }
      if (w.joinsByButton)
        yield {
          key: `button:${w.id}`,
          severity: 'caution',
          title: 'Joining by a button is left on',
          subjects: [w.id],
          text: `'${w.name}' is joined by a button at its access points, which is left on.`,
          why: 'Whoever reaches the button, or guesses its PIN of eight digits, has the key.',
          fixes: [
            {
              label: 'Off, once all have joined',
              edits: [
                editCall('changeWirelessNetwork', { id: w.id, changes: { joinsByButton: false } }),
              ],
            },
          ],
        }
      if (w.security === 'wpa3' && old.length > 0)
        yield {
          key: `new:${w.id}`,
          severity: 'caution',
          title: 'Security that clients of the site do not know',
          subjects: [w.id, ...old.map((c) => c.id)],
          text: `'${w.name}' wants WPA3, which ${oldWords} ${old.length === 1 && !/s$/.test(oldWords) ? 'does' : 'do'} not know.`,
          why: 'They do not see it, or cannot join, if it is meant for them.',
          fixes: [set('wpa2-wpa3', 'WPA2 beside WPA3, as long as they are used')],
        }
      yield* sixWithout(w)
    }
    function* sixWithout(w: WirelessNetwork) {
      const sends = w.accessPointIds.filter((id) =>
        settingsOf(model.device(id), model.profileOf(id)).some((r) => r.isOn && r.band === '6'),
      )
      if (sends.length === 0 || !w.bands.includes('6')) return
      if (w.security !== 'wpa2' && w.security !== 'wpa-wpa2' && w.security !== 'wep') return
      yield {
        key: `six:${w.id}`,
        severity: 'note' as const,
        title: 'A network that 6 GHz does not carry',
        subjects: [w.id],
        text: `'${w.name}' is to be sent in 6 GHz, where only WPA3 is allowed.`,
        why: 'Its access points leave it out there (IEEE 802.11 12.12).',
        fixes: [
          {
            label: 'Send it in 2.4 and 5 GHz',
            edits: [
              editCall('changeWirelessNetwork', { id: w.id, changes: { bands: ['2.4', '5'] } }),
            ],
          },
        ],
      }
    }
  },
})
