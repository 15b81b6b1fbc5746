/** What the final antenna is to read, from a reading with another one. */

/** The difference of the gains at that end, nothing else (the rest of the path is the same). */
export const expectedFromTrial = (
  trial: { readonly gainDbi: number; readonly dbm: number },
  finalGainDbi: number,
): number => trial.dbm + finalGainDbi - trial.gainDbi
