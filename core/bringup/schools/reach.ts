/** What to do to reach a new device, by the way that was chosen for it. */
import type { Device, SetUpWay } from '../../plan'
import type { SiteModel } from '../../topology'
import type { Step } from '../step'
import { laptopBeside } from '../staging/table'

/** Where a factory subnet has room for one host. */
const NO_ROOM = 'none fits beside it: reach it by another way'

export interface Reach {
  readonly title: string
  readonly words: Step['words']
  readonly ifExceeded: string
}

/** @param address of the device's page as from its box */
export function reachOf(model: SiteModel, device: Device, by: SetUpWay, address: string): Reach {
  const { factory } = model.profileOf(device.id)
  const { name } = device
  const account = { label: 'Account', text: factory.account ?? 'none' }
  const page = { label: 'Page', text: `https://${address}` }
  const laptop = { label: 'Laptop address', text: laptopBeside(model, device) ?? NO_ROOM }
  switch (by) {
    case 'cable':
      return {
        title: `Laptop into ${name}, address on its factory subnet`,
        words: [laptop, page, account],
        ifExceeded:
          'A device that found a DHCP server does not answer on its factory address; unplug all ' +
          'but the laptop and start it again. Others of its kind answer on the same address.',
      }
    case 'set-up-radio':
      return {
        title: `Laptop or phone onto the set-up radio of ${name}`,
        words: [
          { label: 'Network', text: 'name and key are on the card in its box; several look alike' },
          page,
          account,
          { label: 'Meanwhile', text: 'no internet: what was fetched before is at hand' },
          {
            label: 'Once renamed',
            text: 'it lets go of you: join the new name, and go on where you were',
          },
        ],
        ifExceeded:
          'Compare the name with the card; keep mobile data off, else the phone asks for the page ' +
          'there; another browser, without anything added to it.',
      }
    case 'short-range':
      return {
        title: `Phone beside ${name}, by its short-range radio`,
        words: [
          { label: 'Within', text: 'a few steps, in sight; one device at a time' },
          account,
          { label: 'Compare', text: `the serial shown with ${device.serial ?? 'its label'}` },
        ],
        ifExceeded:
          'Switch the short-range radio of the phone off and on; a device that was set up before ' +
          'does not answer until it is reset.',
      }
    case 'adapter':
      return {
        title: `Set-up adapter into ${name}, then onto its network`,
        words: [
          { label: 'Network', text: "the adapter's own, as its label says" },
          page,
          account,
          { label: 'Afterwards', text: 'the adapter comes out again, and into the bag' },
        ],
        ifExceeded: 'Take the adapter out and put it in again once the device has started.',
      }
    case 'console':
      return {
        title: `Console cable into ${name}`,
        words: [
          {
            label: 'Speed',
            text: 'as its label says; 115200 or 9600 baud, 8 bits, no parity, one stop bit are usual',
          },
          account,
          { label: 'Answers', text: 'a line comes once Enter was pressed' },
        ],
        ifExceeded: 'Signs that make no sense: the other speed. Nothing: the other cable or port.',
      }
  }
}

/** How it is set back to what it was in its box; what has to be done again after it. */
export function resetWords(model: SiteModel, device: Device): Step['words'] {
  const { setUp } = model.profileOf(device.id)
  return [
    {
      label: 'Reset',
      text:
        setUp.resetSeconds === null
          ? 'by its own page: it has no button for it'
          : `hold its button for ${setUp.resetSeconds} s while it has power, until its lamp changes`,
    },
    {
      label: 'It forgets',
      text: 'its configuration, its password and that it is ours; its firmware stays',
    },
  ]
}
