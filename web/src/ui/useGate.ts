import { useQuery } from '@tanstack/react-query'
import { api, body } from '../api/client'
import { keys } from '../api/keys'

const LOOKED_AT_MS = 30_000

/** What must be so before the beam goes on; coats dry meanwhile. */
export const useGate = (job_id: number) =>
  useQuery({
    queryKey: keys.job(job_id, 'gate'),
    queryFn: () => body(api.GET('/api/jobs/{job_id}/gate', { params: { path: { job_id } } })),
    refetchInterval: LOOKED_AT_MS,
  })
