/** What people may be on a site, from who may do everything to who may only look. */
export const roles = ['owner', 'engineer', 'installer', 'viewer'] as const
export type Role = (typeof roles)[number]

/** Whether a role may do what is kept for another. */
export const isAtLeast = (role: Role, needed: Role): boolean =>
  roles.indexOf(role) <= roles.indexOf(needed)
