import type { Schema } from '../../api/client'

type Burn = Schema<'LoggedBurnOut'>

const CHAPTER: Record<Burn['kind'], string> = {
  grid: 'reading',
  batch: 'run',
  run: 'run',
  artwork: 'artwork',
}

/** Where a burn stands in its job. */
export const burnAddress = (burn: Burn) => `/jobs/${burn.job_id}/${CHAPTER[burn.kind]}`
