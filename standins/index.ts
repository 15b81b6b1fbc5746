export { World, mistype, type ControllerHttp, type Saved } from './world/world'
export type { HttpReply, HttpRequest } from './devices/appliance'
