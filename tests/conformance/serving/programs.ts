/** Servers of leases, started with what was exported. */
import { until, type Place, type Running } from './place'

/**
 * Kea keeps its files in folders of the system; here they are in one of the test, which is all that
 * is changed of the export.
 */
export async function kea(p: Place, space: string, text: string, name: string): Promise<Running> {
  const config = JSON.parse(text) as { Dhcp4: { 'lease-database': object } }
  config.Dhcp4['lease-database'] = {
    ...config.Dhcp4['lease-database'],
    name: p.path(`${name}.leases`),
  }
  const program = p.run(
    space,
    '/usr/sbin/kea-dhcp4',
    ['-c', p.file(`${name}.conf`, JSON.stringify(config))],
    { KEA_LOCKFILE_DIR: p.folder, KEA_PIDFILE_DIR: p.folder },
  )
  await until(
    () => `Kea: ${program.log()}`,
    () => /DHCP4_STARTED/.test(program.log()),
  )
  return program
}
export async function dnsmasq(
  p: Place,
  space: string,
  text: string,
  name: string,
): Promise<Running> {
  const program = p.run(space, '/usr/sbin/dnsmasq', [
    '-k',
    `--conf-file=${p.file(`${name}.conf`, text)}`,
    `--dhcp-leasefile=${p.path(`${name}.leases`)}`,
    '--pid-file=',
    '--user=root',
    '--no-hosts',
    '--log-dhcp',
    '--log-facility=-',
  ])
  await until(
    () => `dnsmasq: ${program.log()}`,
    () => /started/.test(program.log()),
  )
  return program
}
