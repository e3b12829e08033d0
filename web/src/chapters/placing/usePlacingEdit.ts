import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useEffect, useState } from 'react'
import { api, body, type Schema } from '../../api/client'
import { keys } from '../../api/keys'
import { useSettled } from '../../ui/useSettled'

export type Placing = Schema<'PlacingOut'>
type Told = Pick<Placing, 'spec' | 'device_id' | 'artwork_id'>

const toldOf = ({ spec, device_id, artwork_id }: Placing): Told => ({ spec, device_id, artwork_id })

/** What is told of a job's placing, as it is being changed; what is at rest for a moment goes to the server. */
export function usePlacingEdit(jobId: number, placing: Placing) {
  const client = useQueryClient()
  const [told, setTold] = useState(toldOf(placing))
  const settled = useSettled(told, 300)
  const { mutate, isPending, error, variables } = useMutation({
    mutationFn: (wanted: Told) =>
      body(
        api.PUT('/api/jobs/{job_id}/placing', {
          params: { path: { job_id: jobId } },
          body: { ...wanted, version: placing.version },
        }),
      ),
    onSuccess: (kept) => {
      client.setQueryData(keys.job(jobId, 'placing'), kept)
      return client.invalidateQueries({ queryKey: keys.job(jobId), exact: true })
    },
  })
  useEffect(() => {
    // One at a time, each on the version that the last one made; what was refused is not asked again unchanged.
    if (isPending || (error && variables === settled)) return
    if (JSON.stringify(settled) !== JSON.stringify(toldOf(placing))) mutate(settled)
  }, [settled, placing, mutate, isPending, error, variables])
  return {
    ...told,
    error,
    isPending,
    change: (part: Partial<Told['spec']>) => setTold((old) => ({ ...old, spec: { ...old.spec, ...part } })),
    mark: (part: Partial<Told['spec']['mark']>) =>
      setTold((old) => ({ ...old, spec: { ...old.spec, mark: { ...old.spec.mark, ...part } } })),
    turnWith: (device_id: number | null) => setTold((old) => ({ ...old, device_id })),
    place: (artwork_id: number | null) => setTold((old) => ({ ...old, artwork_id })),
  }
}

export type Edit = ReturnType<typeof usePlacingEdit>
