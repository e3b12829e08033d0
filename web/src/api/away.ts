import { ProblemError } from './client'

/** Whether something was put off, not refused. */
export const isAway = (error: Error | null) => error instanceof ProblemError && error.status === 503

/** Asks again while the database or its turn is away, and not for what was refused. */
export const whileAway = (tried: number, error: Error) => tried < 6 && isAway(error)

/** As `whileAway`, and once more for all else. */
export const whileAwayOrOnce = (tried: number, error: Error) => tried < (isAway(error) ? 6 : 1)
