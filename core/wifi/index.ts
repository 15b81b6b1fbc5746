/** Wi-Fi: who is served, by what, at what speed. */
export { floorService, USUAL_CLIENT, type FloorService } from './coverage/floorService'
export { pointOf } from './coverage/place'
