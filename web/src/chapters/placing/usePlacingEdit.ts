import { useQueryClient } from '@tanstack/react-query'
import { api, body, type Schema } from '../../api/client'
import { keys } from '../../api/keys'
import { useDraft } from '../../ui/useDraft'

export type Placing = Schema<'PlacingOut'>
type Told = Pick<Placing, 'spec' | 'device_id' | 'artwork_id'>

const toldOf = ({ spec, device_id, artwork_id }: Placing): Told => ({ spec, device_id, artwork_id })

/** What is told of a job's placing, as it is being changed; what is at rest for a moment goes to the server. */
export function usePlacingEdit(jobId: number, placing: Placing) {
  const client = useQueryClient()
  const { value, change, ...draft } = useDraft<Told>(
    { value: toldOf(placing), version: placing.version },
    {
      after_ms: 300,
      write: async (told, version) => {
        const kept = await body(
          api.PUT('/api/jobs/{job_id}/placing', {
            params: { path: { job_id: jobId } },
            body: { ...told, version },
          }),
        )
        client.setQueryData(keys.job(jobId, 'placing'), kept)
        await Promise.all([
          client.invalidateQueries({ queryKey: keys.job(jobId), exact: true }),
          client.invalidateQueries({ queryKey: keys.job(jobId, 'jigs') }),
        ])
        return { value: toldOf(kept), version: kept.version }
      },
      refetch: () => client.invalidateQueries({ queryKey: keys.job(jobId, 'placing') }),
    },
  )
  return {
    ...draft,
    ...value,
    change: (part: Partial<Told['spec']>) => change((old) => ({ ...old, spec: { ...old.spec, ...part } })),
    mark: (part: Partial<Told['spec']['mark']>) =>
      change((old) => ({ ...old, spec: { ...old.spec, mark: { ...old.spec.mark, ...part } } })),
    turnWith: (device_id: number | null) => change((old) => ({ ...old, device_id })),
    place: (artwork_id: number | null) => change((old) => ({ ...old, artwork_id })),
  }
}

export type Edit = ReturnType<typeof usePlacingEdit>
