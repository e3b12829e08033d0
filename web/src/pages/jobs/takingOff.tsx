import { useState } from 'react'
import { api, body } from '../../api/client'
import { useJobWrite, useSession } from '../../api/hooks'
import type { Job } from '../../api/types'
import { AskedFirst, Button } from '../../ui/parts'

type Listed = Pick<Job, 'id' | 'name' | 'version' | 'put_away'>
type Off = ReturnType<typeof useTakingOff>

/** What takes a job off the lists: put away, or deleted by an owner after a question. */
export function useTakingOff(job: Listed) {
  const session = useSession()
  const [asked, ask] = useState(false)
  const params = { path: { job_id: job.id } }
  const put = useJobWrite(job.id, () =>
    body(
      api.PUT('/api/jobs/{job_id}/put-away', { params, body: { away: !job.put_away, version: job.version } }),
    ),
  )
  const remove = useJobWrite(job.id, () =>
    api.DELETE('/api/jobs/{job_id}', { params: { ...params, query: { version: job.version } } }),
  )
  return { put, remove, asked, ask, isOwner: !!session.data?.owner, error: put.error ?? remove.error }
}

export function TakeOffButtons({ job, off, canDelete }: { job: Listed; off: Off; canDelete: boolean }) {
  const words = job.put_away ? 'Take back' : 'Put away'
  return (
    <>
      <Button
        look="quiet"
        disabled={off.put.isPending}
        aria-label={`${words} ${job.name}`}
        onClick={() => off.put.mutate(undefined)}
      >
        {words}
      </Button>
      {canDelete && off.isOwner && (
        <Button look="quiet" disabled={off.remove.isPending} onClick={() => off.ask(true)}>
          Delete …
        </Button>
      )}
    </>
  )
}

export function DeleteQuestion({ job, off, className }: { job: Listed; off: Off; className?: string }) {
  if (!off.asked) return null
  return (
    <AskedFirst
      act={`Delete ${job.name}`}
      busy={off.remove.isPending}
      onAct={() => off.remove.mutate(undefined)}
      onKeep={() => off.ask(false)}
      className={className}
    >
      Grids, photos, settings and runs of it go for good; the logbook keeps its lines.
    </AskedFirst>
  )
}
