import { ProblemError } from './client'

const MOST = 30

/** Whether something was put off, not refused. */
export const isAway = (error: Error | null) =>
  error instanceof ProblemError && (error.again_s !== null || error.status === 503)

/** Asks again while the database or its turn is away, and not for what was refused. */
export const whileAway = (tried: number, error: Error) => tried < MOST && isAway(error)

/** As `whileAway`, and once more for all else. */
export const whileAwayOrOnce = (tried: number, error: Error) => tried < (isAway(error) ? MOST : 1)

/** How long to wait before that, ms: never longer than it takes a database to come back. */
export const againAfter = (_tried: number, error: Error) =>
  1_000 * Math.min(2, (error instanceof ProblemError && error.again_s) || 2)
