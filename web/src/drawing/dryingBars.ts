import type { Schema } from '../api/client'
import type { Job } from '../api/types'

/** One bar of the drying line: pieces of a job that dry alike, or dried and wait. */
export type DryingBar = {
  key: string
  job: Pick<Job, 'id' | 'name' | 'coat_label'>
  group: Schema<'GroupOut'>
  pieces: string
}

/** How far the line looks ahead, ms: to the last end, unless that one lies so far off that the others would be
 *  squeezed to nothing; then its bar runs off the edge. */
export function horizon(endsAhead: number[]): number {
  const [last = 0, second = 0] = [...endsAhead].sort((a, b) => b - a)
  return second > 0 && last > 4 * second ? 2 * second : last
}

/** The bars of some jobs: groups with a coat on that is not dry through, or whose next coat waits. */
export function dryingBars(jobs: Job[]): DryingBar[] {
  return jobs.flatMap((job) =>
    job.drying.groups
      .filter((group) => group.put_on_at !== null && !(group.ready && group.coats_on >= group.coats_planned))
      .map((group) => ({
        key: `${job.id}-${group.first}`,
        job,
        group,
        pieces: job.drying.groups.length > 1 ? `${group.first}–${group.last}` : 'all',
      })),
  )
}
