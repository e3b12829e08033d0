import { useQueryClient } from '@tanstack/react-query'
import { useEffect, useState } from 'react'
import { api, body, uploadArtPhoto, type Schema } from '../../api/client'
import { isOver, useArtBurn, useArtPieces, useJobWrite } from '../../api/hooks'
import { fetchAnew, keys } from '../../api/keys'
import type { Job } from '../../api/types'
import { CornerMarker } from '../../ui/CornerMarker'
import { FilePick } from '../../ui/FilePick'
import { Problem } from '../../ui/feedback'
import { Button, Card } from '../../ui/parts'
import { dayAndClock } from '../../ui/units'
import { LaserProgress } from '../grid/LaserProgress'
import { Likeness } from './Likeness'
import type { Artwork } from './useArtworkEdit'

type Photo = Schema<'ArtPhotoOut'>

/** What came of it: burned on the practice bench, photographed, and laid over what was expected. */
export function PiecesCard({
  job,
  artwork,
  piece,
  seconds,
  usable,
}: {
  job: Job
  artwork: Artwork
  piece: number
  seconds: number
  usable: boolean
}) {
  const pieces = useArtPieces(job.id, artwork.id)
  const path = { params: { path: { artwork_id: artwork.id } } }
  const start = useJobWrite(job.id, () =>
    body(api.POST('/api/artworks/{artwork_id}/burns', { ...path, body: { piece } })),
  )
  const shoot = useJobWrite(job.id, () =>
    body(api.POST('/api/artworks/{artwork_id}/practice/photo', { ...path, body: { trouble: 'none' } })),
  )
  const upload = useJobWrite(job.id, (photo: File) => uploadArtPhoto(artwork.id, { photo, piece }))
  if (!pieces.data) return pieces.error ? <Problem error={pieces.error} /> : null
  const { burn, photos } = pieces.data
  if (burn && !isOver(burn)) return <Burning job={job} burn={burn} seconds={seconds} />
  const practice = Boolean(job.practice)
  const error = start.error ?? shoot.error ?? upload.error
  return (
    <Card title="What came of it">
      {photos.length === 0 && (
        <p className="mb-3 text-soft">
          {practice
            ? 'Burn it on a practice piece, wash and photograph it: the photo is laid over what was expected.'
            : 'Photograph a finished piece, washed, the whole of it in the picture: the photo is laid over what was expected.'}
        </p>
      )}
      {burn?.state === 'failed' && <p className="mb-3 text-ember">The last burn failed. {burn.trouble}</p>}
      {photos.map((photo) => (
        <Compared key={photo.id} job={job} photo={photo} />
      ))}
      <div className="flex flex-wrap gap-2">
        {practice && (
          <>
            <Button
              look={burn ? 'plain' : 'main'}
              disabled={!usable || start.isPending}
              onClick={() => start.mutate(undefined)}
            >
              Burn it on a practice piece
            </Button>
            {burn && burn.state !== 'failed' && (
              <Button
                look={photos.length ? 'plain' : 'main'}
                disabled={shoot.isPending || photos.some((photo) => photo.waiting)}
                onClick={() => shoot.mutate(undefined)}
              >
                Wash and photograph it
              </Button>
            )}
          </>
        )}
        <FilePick pick={upload.mutate} disabled={!usable || upload.isPending}>
          Photo of a piece
        </FilePick>
      </div>
      {error && <Problem error={error} />}
    </Card>
  )
}

function Burning({ job, burn: first, seconds }: { job: Job; burn: Schema<'LaserOut'>; seconds: number }) {
  const client = useQueryClient()
  const { data: burn } = useArtBurn(first)
  const over = isOver(burn)
  useEffect(() => {
    if (over) void fetchAnew.these(client, keys.job(job.id))
  }, [over, client, job.id])
  const tell = useJobWrite(job.id, (word: string) =>
    body(
      api.POST('/api/art-burns/{art_burn_id}/{word}', {
        params: { path: { art_burn_id: burn.id, word } },
      }),
    ),
  )
  return <LaserProgress burn={burn} seconds={seconds} tell={tell.mutate} error={tell.error} />
}

function Compared({ job, photo }: { job: Job; photo: Photo }) {
  const [marking, mark] = useState(false)
  const path = { params: { path: { art_photo_id: photo.id } } }
  const drop = useJobWrite(job.id, () => body(api.DELETE('/api/art-photos/{art_photo_id}', path)))
  const save = useJobWrite(job.id, (points: Schema<'SpotIn'>[] | null) =>
    body(
      api.PUT('/api/art-photos/{art_photo_id}/corners', {
        ...path,
        body: { points, version: photo.version },
      }),
    ),
  )
  const picture = (kind: string) => `/api/art-photos/${photo.id}/${kind}?v=${photo.version}`
  const alike = photo.likeness
  return (
    <section className="mb-4 border-b border-line pb-4">
      <h3 className="mb-2 text-sm font-bold text-soft">
        {dayAndClock(photo.at)}, artwork version {photo.made_version}, setting version {photo.lock_version}
        {photo.simulated && ', simulated'}
      </h3>
      {photo.waiting ? (
        <p role="status">
          {photo.simulated
            ? 'It is washed, photographed and laid over what was expected …'
            : 'It is laid over what was expected …'}
        </p>
      ) : marking ? (
        <CornerMarker
          src={picture('view')}
          of="the piece"
          frame={photo.round ? 'rim' : 'corners'}
          points={photo.points?.map(([x = 0, y = 0]) => ({ x, y })) ?? null}
          busy={save.isPending}
          save={(points) => save.mutate(points, { onSuccess: () => mark(false) })}
          leave={() => mark(false)}
        />
      ) : (
        <>
          {photo.trouble && (
            <p className="mb-2 text-ember">
              {photo.trouble.message} {photo.trouble.hint}
            </p>
          )}
          {alike && <Likeness alike={alike} upright={picture('upright')} off={picture('difference')} />}
          <div className="mt-2 flex flex-wrap gap-2">
            <Button onClick={() => mark(true)}>Mark the {photo.round ? 'rim' : 'corners'} by hand</Button>
            <Button look="quiet" disabled={drop.isPending} onClick={() => drop.mutate(undefined)}>
              Throw the photo away
            </Button>
          </div>
        </>
      )}
      {(save.error ?? drop.error) && <Problem error={save.error ?? drop.error} />}
    </section>
  )
}
