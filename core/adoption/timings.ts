/**
 * How the controller and its devices keep time: seconds of device time, which runs `clockSpeed`
 * times as fast as the wall clock (1 for real ones).
 */

/** Between two calls of a device that waits to be claimed. */
export const RETRY_SECONDS = 10
/** Between two reports of a device that runs. */
export const REPORT_SECONDS = 30
/** Between two reports of a device that holds or tries a document. */
export const TRIAL_REPORT_SECONDS = 10
/** How many calls or reports may be missed. */
const MISSED = 3
/** One that writes firmware is silent for minutes. */
export const LOADING_SECONDS = 900
/** However fast the devices live, the wall clock's network and processes take their time, ms. */
const LEAST_SILENCE_MS = 6000

const silence = (seconds: number, clockSpeed: number): number =>
  Math.max(LEAST_SILENCE_MS, (seconds * MISSED * 1000) / clockSpeed)

/** How long a device that reports may be silent before it is lost, ms of the wall clock. */
export const silenceMs = (clockSpeed: number): number => silence(REPORT_SECONDS, clockSpeed)
/** How long a device that calls may be quiet before it no longer counts, ms of the wall clock. */
export const callerSilenceMs = (clockSpeed: number): number => silence(RETRY_SECONDS, clockSpeed)
/** How long a device may be silent before its place is in question, ms of the wall clock. */
export const patienceMs = (isLoading: boolean, clockSpeed: number): number =>
  Math.max(silenceMs(clockSpeed), isLoading ? (LOADING_SECONDS * 1000) / clockSpeed : 0)
