import type { Device, Profile, RadioSetting } from './schema'

/** How the radios of a device are set; what nobody set is as it comes, with all its power. */
export const settingsOf = (device: Device, { air }: Pick<Profile, 'air'>): RadioSetting[] =>
  air.map(
    (radio, n): RadioSetting =>
      device.radios[n] ?? {
        isOn: true,
        band: radio.bands[0]!,
        channel: null,
        widthMhz: 20,
        powerDbm: null,
      },
  )
