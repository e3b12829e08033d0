import { useState } from 'react'
import { api, body, uploadPiecePhoto, type Schema } from '../../api/client'
import { useJobWrite } from '../../api/hooks'
import type { Job } from '../../api/types'
import { CornerMarker } from '../../ui/CornerMarker'
import { FilePick } from '../../ui/FilePick'
import { Problem } from '../../ui/feedback'
import { Button } from '../../ui/parts'
import { Likeness } from '../artwork/Likeness'

type Record = Schema<'BatchPieceRecordOut'>

/** The photo of a washed piece, laid over what was expected of it. */
export function PiecePhoto({ job, record }: { job: Job; record: Record }) {
  const path = { params: { path: { piece_id: record.id } } }
  const upload = useJobWrite(job.id, (photo: File) => uploadPiecePhoto(record.id, photo))
  const shoot = useJobWrite(job.id, () =>
    body(api.POST('/api/batch-pieces/{piece_id}/practice/photo', { ...path, body: { trouble: 'none' } })),
  )
  const { photo } = record
  const error = upload.error ?? shoot.error
  return (
    <div className="mt-3 border-t border-line pt-3">
      {photo && <Compared key={photo.id} job={job} photo={photo} />}
      <div className="flex flex-wrap gap-2">
        {job.practice && (
          <Button disabled={shoot.isPending || photo?.waiting} onClick={() => shoot.mutate(undefined)}>
            Photograph it
          </Button>
        )}
        <FilePick pick={upload.mutate} disabled={upload.isPending}>
          {photo ? 'Another photo' : 'Photo of this piece'}
        </FilePick>
      </div>
      {error && <Problem error={error} />}
    </div>
  )
}

function Compared({ job, photo }: { job: Job; photo: Schema<'PiecePhotoOut'> }) {
  const [marking, mark] = useState(false)
  const save = useJobWrite(job.id, (points: Schema<'SpotIn'>[] | null) =>
    body(
      api.PUT('/api/piece-photos/{piece_photo_id}/corners', {
        params: { path: { piece_photo_id: photo.id } },
        body: { points, version: photo.version },
      }),
    ),
  )
  const picture = (kind: string) => `/api/piece-photos/${photo.id}/${kind}?v=${photo.version}`
  if (photo.waiting) return <p role="status">It is laid over what was expected …</p>
  if (marking)
    return (
      <>
        <CornerMarker
          src={picture('view')}
          of="the piece"
          frame={photo.round ? 'rim' : 'corners'}
          points={photo.points?.map(([x = 0, y = 0]) => ({ x, y })) ?? null}
          busy={save.isPending}
          save={(points) => save.mutate(points, { onSuccess: () => mark(false) })}
          leave={() => mark(false)}
        />
        {save.error && <Problem error={save.error} />}
      </>
    )
  return (
    <div className="mb-3">
      {photo.trouble && (
        <p className="mb-2 text-ember">
          {photo.trouble.message} {photo.trouble.hint}
        </p>
      )}
      {photo.likeness && (
        <Likeness alike={photo.likeness} upright={picture('upright')} off={picture('difference')} />
      )}
      <Button look="quiet" className="-ml-2" onClick={() => mark(true)}>
        Mark the {photo.round ? 'rim' : 'corners'} by hand
      </Button>
    </div>
  )
}
