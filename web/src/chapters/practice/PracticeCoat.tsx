import { useState } from 'react'
import { api, body } from '../../api/client'
import { useJobWrite, usePractice } from '../../api/hooks'
import type { Job } from '../../api/types'
import { Problem } from '../../ui/feedback'
import { SelectField } from '../../ui/form'
import { Button, Card, LinkButton } from '../../ui/parts'

/** Coat the practice pieces in one go, well or badly; they dry at once. */
export function PracticeCoat({ job }: { job: Job }) {
  const coatings = usePractice().data?.coatings ?? []
  const [coating, setCoating] = useState('even')
  const coat = useJobWrite(job.id, () =>
    body(
      api.POST('/api/jobs/{job_id}/practice/coat', {
        params: { path: { job_id: job.id } },
        body: { coating },
      }),
    ),
  )
  const { practice } = job
  if (!practice) return null
  if (job.drying.all_on || !job.coat_put_on)
    return (
      <Card accent title="Practice pieces">
        <p className="text-2xl font-bold">Coated {practice.coating}, and dry</p>
        <LinkButton look="main" className="mt-4 w-full" to={`/jobs/${job.id}/grid`}>
          To the grid
        </LinkButton>
        {job.coat_put_on && (
          <LinkButton className="mt-2 w-full" to={`/jobs/${job.id}/coat/prove`}>
            Photograph the coats first
          </LinkButton>
        )}
      </Card>
    )
  return (
    <Card accent title="Practice pieces">
      <p className="mb-3 text-2xl font-bold">Coat them, well or badly</p>
      <SelectField
        label="The hand coats"
        name="coating"
        value={coating}
        onChange={(e) => setCoating(e.target.value)}
      >
        {coatings.map(({ key, label }) => (
          <option key={key} value={key}>
            {label}
          </option>
        ))}
      </SelectField>
      <Button
        look="main"
        className="mt-3 w-full text-lg"
        disabled={coat.isPending}
        onClick={() => coat.mutate(undefined)}
      >
        Coat all pieces and let them dry
      </Button>
      <p className="mt-2 text-sm text-soft">
        Simulated: no waiting. The steps below are those of a real job, to look at.
      </p>
      {coat.error && <Problem error={coat.error} />}
    </Card>
  )
}
