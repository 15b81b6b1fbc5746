/** Edits of what a port carries. */
import type { Draft } from 'immer'
import { z } from 'zod'
import { defineEdit, EditRefused } from '../edit'
import { idSchema, type Port, type SitePlan } from '../schema'

function portOf(draft: Draft<SitePlan>, portId: string): Draft<Port> {
  const port = draft.ports[portId]
  if (!port)
    throw new EditRefused(
      `there is no port '${portId}'; its device may have been removed meanwhile`,
    )
  return port
}
const portName = (plan: SitePlan, portId: string): string => {
  const port = plan.ports[portId]
  return port ? `${plan.devices[port.deviceId]?.name ?? port.deviceId} port ${port.name}` : portId
}
const segmentName = (plan: SitePlan, id: string): string => {
  const s = plan.segments[id]
  return s ? `VLAN ${s.vlanId} ${s.name}` : id
}

const addTag = defineEdit({
  name: 'addTag',
  args: z.strictObject({ segmentId: idSchema, portIds: z.array(idSchema).min(1) }),
  apply(draft, { segmentId, portIds }) {
    for (const id of portIds) {
      const port = portOf(draft, id)
      if (port.untaggedSegmentId === segmentId)
        throw new EditRefused(`port ${id} carries this segment untagged already`)
      if (!port.taggedSegmentIds.includes(segmentId)) port.taggedSegmentIds.push(segmentId)
    }
  },
  describe: (plan, { segmentId, portIds }) =>
    `Tag ${segmentName(plan, segmentId)} on ${portIds.map((p) => portName(plan, p)).join(' and ')}`,
})

const removeTag = defineEdit({
  name: 'removeTag',
  args: z.strictObject({ segmentId: idSchema, portIds: z.array(idSchema).min(1) }),
  apply(draft, { segmentId, portIds }) {
    for (const id of portIds) {
      const port = portOf(draft, id)
      port.taggedSegmentIds = port.taggedSegmentIds.filter((s) => s !== segmentId)
    }
  },
  describe: (plan, { segmentId, portIds }) =>
    `Take ${segmentName(plan, segmentId)} off ${portIds.map((p) => portName(plan, p)).join(' and ')}`,
})

const setUntagged = defineEdit({
  name: 'setUntagged',
  args: z.strictObject({ segmentId: idSchema.nullable(), portIds: z.array(idSchema).min(1) }),
  apply(draft, { segmentId, portIds }) {
    for (const id of portIds) {
      const port = portOf(draft, id)
      port.untaggedSegmentId = segmentId
      port.taggedSegmentIds = port.taggedSegmentIds.filter((s) => s !== segmentId)
    }
  },
  describe: (plan, { segmentId, portIds }) =>
    `${segmentId ? `Carry ${segmentName(plan, segmentId)}` : 'Carry nothing'} untagged on ` +
    `${portIds.map((p) => portName(plan, p)).join(' and ')}`,
})

const movePlug = defineEdit({
  name: 'movePlug',
  args: z.strictObject({ linkId: idSchema, fromPortId: idSchema, toPortId: idSchema }),
  apply(draft, { linkId, fromPortId, toPortId }) {
    const link = draft.links[linkId]
    if (!link) throw new EditRefused(`there is no link '${linkId}'`)
    const from = portOf(draft, fromPortId)
    const to = portOf(draft, toPortId)
    if (link.a === fromPortId) link.a = toPortId
    else if (link.b === fromPortId) link.b = toPortId
    else throw new EditRefused(`the link '${linkId}' is not in port '${fromPortId}'`)
    Object.assign(to, {
      untaggedSegmentId: from.untaggedSegmentId,
      taggedSegmentIds: [...from.taggedSegmentIds],
    })
    // What is empty carries nothing: a socket that goes on being a trunk lets in whoever plugs into
    // it.
    Object.assign(from, { untaggedSegmentId: null, taggedSegmentIds: [] })
  },
  describe: (plan, { fromPortId, toPortId }) =>
    `Move the plug from ${portName(plan, fromPortId)} to ${portName(plan, toPortId)}`,
})

export const portEditList = [addTag, removeTag, setUntagged, movePlug]
