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

export function useWriteSlip(id: number) {
  return useJobWrite(id, (slip: Schema<'SlipIn'>) =>
    body(api.POST('/api/jobs/{job_id}/slips', { ...at(id), body: slip })),
  )
}

export const useWithdrawSlip = (id: number) =>
  useJobWrite(id, (slipId: number) =>
    body(api.POST('/api/slips/{slip_id}/withdraw', { params: { path: { slip_id: slipId } } })),
  )
