/** Accounts: made, entered with a password, given another one. */
import { eq, sql } from 'drizzle-orm'
import { db, inTransaction, type Executor } from '../db/database'
import { accounts, log } from '../db/schema'
import { Refused } from '../refusal'
import { checkPassword, hashPassword } from './passwords'
import { endOthers, type Account } from './sessions'
import { countTry } from './tries'

/** Whether the first account is still to be made. */
export const needsSetup = async (): Promise<boolean> =>
  (await db().select({ id: accounts.id }).from(accounts).limit(1)).length === 0

// An unknown name takes as long as a wrong password, so that nobody learns which names exist.
const decoy = hashPassword('not the password of anybody')
decoy.catch(() => {})

const named = (at: Pick<Executor, 'select'>, name: string) =>
  at
    .select()
    .from(accounts)
    .where(eq(sql`lower(${accounts.name})`, name.toLowerCase()))

/** The account with that name and password. @throws Refused, also after too many tries. */
export async function accountWith(
  name: string,
  password: string,
  address: string,
): Promise<{ id: string; name: string }> {
  const tries = await countTry(address, name)
  const [found] = await named(db(), name)
  const right = await checkPassword(password, found?.passwordHash ?? (await decoy))
  if (!found || !right) {
    if (found)
      await db()
        .insert(log)
        .values({ accountId: found.id, what: 'A sign-in failed: wrong password' })
    throw new Refused('not-signed-in', 'name or password is wrong')
  }
  await tries.forget()
  return { id: found.id, name: found.name }
}

const tooLate = (): Refused =>
  new Refused('out-of-turn', 'the first account was made already; sign in')

/** Makes the first account and gives its id. Closed for ever once there is one. */
export async function makeFirst(name: string, password: string, address: string): Promise<string> {
  // Hashing is slow by intent; whoever comes late is told so before it.
  if (!(await needsSetup())) throw tooLate()
  const tries = await countTry(address, 'setup')
  const passwordHash = await hashPassword(password)
  const id = await inTransaction(async (tx) => {
    await tx.execute(sql`lock table ${accounts} in exclusive mode`)
    const [existing] = await tx.select({ id: accounts.id }).from(accounts).limit(1)
    if (existing) throw tooLate()
    const [row] = await tx
      .insert(accounts)
      .values({ name, passwordHash })
      .returning({ id: accounts.id })
    return row!.id
  })
  await tries.forget()
  return id
}

/** Makes an account of whoever was invited. @throws Refused where the name is taken. */
export async function makeAccount(
  tx: Executor,
  name: string,
  passwordHash: string,
): Promise<string> {
  const [taken] = await named(tx, name)
  if (taken)
    throw new Refused('not-possible', 'this name is taken; sign in with it, or choose another')
  const [made] = await tx
    .insert(accounts)
    .values({ name, passwordHash })
    .returning({ id: accounts.id })
  return made!.id
}

/** Whoever is signed in elsewhere with the old password is signed out. */
export async function replacePassword(
  account: Account,
  current: string,
  next: string,
  address: string,
): Promise<void> {
  const tries = await countTry(address, account.name)
  const [row] = await db()
    .select({ passwordHash: accounts.passwordHash })
    .from(accounts)
    .where(eq(accounts.id, account.id))
  if (!row || !(await checkPassword(current, row.passwordHash)))
    throw new Refused('not-possible', 'the current password is wrong')
  await tries.forget()
  const passwordHash = await hashPassword(next)
  await inTransaction(async (tx) => {
    await tx.update(accounts).set({ passwordHash }).where(eq(accounts.id, account.id))
    await tx.insert(log).values({ accountId: account.id, what: 'Changed the password' })
    await endOthers(tx, account)
  })
}
