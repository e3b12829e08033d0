import type { Job } from '../../api/types'

/** The drawn grid that a new one takes the place of, as it is seen here. */
export const drawnGrid = (job: Job) => (job.grid?.state === 'drawn' ? job.grid.id : null)
