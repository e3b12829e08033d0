import { useQuery } from '@tanstack/react-query'
import { api, body, type Schema } from '../../api/client'
import { useJobWrite } from '../../api/hooks'
import { keys } from '../../api/keys'

const at = (id: number) => ({ params: { path: { job_id: id } } })

export const useCost = (id: number) =>
  useQuery({
    queryKey: keys.job(id, 'cost'),
    queryFn: () => body(api.GET('/api/jobs/{job_id}/cost', at(id))),
  })

export const useTellCost = (id: number) =>
  useJobWrite(id, (told: Schema<'CostIn'>) =>
    body(api.PUT('/api/jobs/{job_id}/cost', { ...at(id), body: told })),
  )
