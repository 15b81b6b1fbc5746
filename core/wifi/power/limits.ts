/** How loud a radio has to be where people are, and may be where nobody is to be served. */

/** A good level for all uses, dBm (common practice): enough inside, too much far outside. */
export const GOOD_DBM = -67
/** So far outside the boundary nobody is to be served, m. */
export const FAR_M = 20
/** Radios are set no lower, dBm (common practice). */
export const LEAST_POWER_DBM = 2
