/** Why the controller does not listen to a device. */
export class Unauthorised extends Error {}
export class Replayed extends Error {}
