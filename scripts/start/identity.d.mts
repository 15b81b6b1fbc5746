export function beganAt(pid: number): string | undefined
export function isAlive(pid: number): boolean
