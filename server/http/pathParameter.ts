import { getRouterParam, type H3Event } from 'h3'
import { Refused } from '../refusal'

/** What is filled in in a path, decoded. @throws Refused where that is not possible. */
export function pathParameter(event: H3Event, name: string): string | undefined {
  try {
    return getRouterParam(event, name, { decode: true })
  } catch {
    throw new Refused('invalid', 'the address is not valid')
  }
}
