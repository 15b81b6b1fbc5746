/**
 * C-73: the controller's address as somebody typed it into a device, against the one that it should
 * be: nothing more and nothing less.
 */

export type AddressVerdict =
  { readonly ok: true } | { readonly ok: false; readonly reason: string; readonly paste: string }

/** @param expected as `controllerUrl` gives it, for example http://10.20.10.2:8043 */
export function checkControllerAddress(typed: string, expected: string): AddressVerdict {
  const text = typed.trim()
  if (text === expected) return { ok: true }
  const no = (reason: string): AddressVerdict => ({ ok: false, reason, paste: expected })
  if (text === '') return no('nothing is typed yet')
  if (/\s/.test(text)) return no('there is a space in it')
  const wanted = new URL(expected)
  const match = /^(?:([a-z][a-z0-9+.-]*):\/\/)?([^/:?#]+)(?::(\d*))?([/?#].*)?$/i.exec(text)
  if (!match) return no('this is not an address of the form http://address:port')
  const [, scheme, host, port, rest] = match
  if (host !== wanted.hostname)
    return no(`the address is ${host}, the controller is at ${wanted.hostname}`)
  if (scheme === undefined) return no(`${wanted.protocol}// is missing at its start`)
  if (`${scheme.toLowerCase()}:` !== wanted.protocol)
    return no(`it starts with ${scheme}://, the controller speaks ${wanted.protocol}//`)
  if (port === undefined || port === '')
    return no(`the port is missing: :${wanted.port} after the address`)
  if (port !== wanted.port)
    return no(`the port is ${port}, the controller listens on ${wanted.port}`)
  if (rest === '/') return no('there is a slash too many at its end')
  if (rest) return no(`there is a path too many: ${rest}`)
  return no('it differs in small or capital letters')
}
