import type { Sender } from '@mast/core/release'
import type { H3Event } from 'h3'
import { addressOf } from './clientAddress'

/** From where somebody sends a release: whether they would cut themselves off is looked at. */
export const senderOf = (event: H3Event): Sender => ({
  address: addressOf(event),
  port: event.node.req.socket.localPort ?? 443,
})
