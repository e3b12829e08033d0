import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { api, body, type Schema } from '../../api/client'
import { keys } from '../../api/keys'
import { useSettledWrite } from '../../ui/useSettledWrite'

export type Placing = Schema<'PlacingOut'>
type Told = Pick<Placing, 'spec' | 'device_id' | 'artwork_id'>

const toldOf = ({ spec, device_id, artwork_id }: Placing): Told => ({ spec, device_id, artwork_id })

/** What is told of a job's placing, as it is being changed; what is at rest for a moment goes to the server. */
export function usePlacingEdit(jobId: number, placing: Placing) {
  const client = useQueryClient()
  const [told, setTold] = useState(toldOf(placing))
  const write = useMutation({
    mutationFn: (wanted: Told) =>
      body(
        api.PUT('/api/jobs/{job_id}/placing', {
          params: { path: { job_id: jobId } },
          // As the last write left it, which the page may not have been drawn with yet.
          body: {
            ...wanted,
            version: client.getQueryData<Placing>(keys.job(jobId, 'placing'))?.version ?? placing.version,
          },
        }),
      ),
    onSuccess: (kept) => {
      client.setQueryData(keys.job(jobId, 'placing'), kept)
      return Promise.all([
        client.invalidateQueries({ queryKey: keys.job(jobId), exact: true }),
        client.invalidateQueries({ queryKey: keys.job(jobId, 'jigs') }),
      ])
    },
  })
  useSettledWrite(told, toldOf(placing), 300, write)
  return {
    ...told,
    error: write.error,
    isPending: write.isPending,
    change: (part: Partial<Told['spec']>) => setTold((old) => ({ ...old, spec: { ...old.spec, ...part } })),
    mark: (part: Partial<Told['spec']['mark']>) =>
      setTold((old) => ({ ...old, spec: { ...old.spec, mark: { ...old.spec.mark, ...part } } })),
    turnWith: (device_id: number | null) => setTold((old) => ({ ...old, device_id })),
    place: (artwork_id: number | null) => setTold((old) => ({ ...old, artwork_id })),
  }
}

export type Edit = ReturnType<typeof usePlacingEdit>
