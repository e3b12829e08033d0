import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useNavigate } from 'react-router'
import { fetchAnew } from '../../api/keys'
import { api, body, type Schema } from '../../api/client'
import { useCatalogue, useMachines } from '../../api/hooks'
import { useOnceKey } from '../../api/once'
import { Loading, Problem } from '../../ui/feedback'
import { LinkButton } from '../../ui/parts'
import { PieceForm } from '../../chapters/piece/PieceForm'

export default function NewJobPage() {
  const navigate = useNavigate()
  const client = useQueryClient()
  const catalogue = useCatalogue()
  const machines = useMachines()
  const once = useOnceKey()
  const make = useMutation({
    mutationFn: (job: Schema<'JobIn'>) => body(api.POST('/api/jobs', { headers: once.headers(), body: job })),
    onSuccess: async (job) => {
      await fetchAnew.everything(client)
      await navigate(`/jobs/${job.id}/coat`)
    },
  })
  if (catalogue.isPending || machines.isPending) return <Loading what="catalogue" />
  if (catalogue.isError) return <Problem error={catalogue.error} />
  if (machines.isError) return <Problem error={machines.error} />
  const machine = machines.data[0]
  return (
    <>
      <h1 className="mb-4 text-2xl font-bold">New job</h1>
      {machine ? (
        <PieceForm
          catalogue={catalogue.data}
          machines={machines.data}
          start={startValues(catalogue.data, machine)}
          submit={(job) => make.mutate(job)}
          error={make.error}
          pending={make.isPending}
          label="Make the job"
          fixed={false}
        />
      ) : (
        <p>
          First Keen Coat needs to know your laser. <LinkButton to="/shop">Add a machine</LinkButton>
        </p>
      )}
    </>
  )
}

function startValues(catalogue: Schema<'Catalogue'>, machine: Schema<'MachineOut'>): Schema<'JobIn'> {
  const substrate = catalogue.substrates[0]?.key ?? ''
  return {
    name: '',
    shape: 'rectangle',
    width_mm: 100,
    height_mm: 100,
    narrow_mm: 80,
    thickness_mm: 4,
    margin_mm: 3,
    pieces: 8,
    spares: 2,
    spare_worth: 1,
    substrate,
    process: '',
    machine_id: machine.id,
    coat: '',
    tool: '',
    coats: 1,
    interval_mm: 0.1,
  }
}
