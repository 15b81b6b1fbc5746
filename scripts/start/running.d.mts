export function processOf(file: string): number
export function runningProcess(): number
export function takeFolder(): () => void
