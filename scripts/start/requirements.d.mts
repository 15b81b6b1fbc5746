export function checkNode(version?: string): void
export function ensureDebian(
  wanted: readonly { package: string; there: string | (() => boolean) }[],
): Promise<void>
