import { useQuery } from '@tanstack/react-query'
import { api, body } from '../../api/client'
import { keys } from '../../api/keys'

/** What the test pieces of a job took so far. */
export const useSearch = (job_id: number) =>
  useQuery({
    queryKey: keys.job(job_id, 'search'),
    queryFn: () => body(api.GET('/api/jobs/{job_id}/search', { params: { path: { job_id } } })),
  })
