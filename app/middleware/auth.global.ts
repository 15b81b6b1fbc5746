export default defineNuxtRouteMiddleware(async (to) => {
  // Whoever has such a link needs no account.
  if (to.path.startsWith('/hand-out/')) return
  const session = useSession()
  if (!session.known) await session.refresh()
  if (!session.account && to.path !== '/enter')
    return navigateTo({ path: '/enter', query: to.path === '/' ? {} : { to: to.fullPath } })
  if (session.account && to.path === '/enter' && !to.query.invitation) return navigateTo('/')
})
