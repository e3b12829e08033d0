import { useState } from 'react'
import type { Schema } from '../../api/client'
import { usePractice } from '../../api/hooks'
import type { Job } from '../../api/types'
import { CornerMarker } from '../../ui/CornerMarker'
import { Problem } from '../../ui/feedback'
import { FilePick } from '../../ui/FilePick'
import { SelectField } from '../../ui/form'
import { Button, Card, FileLink } from '../../ui/parts'
import { dayAndClock } from '../../ui/units'
import { usePhotoWrites } from './useGridWrites'

type Reading = Schema<'GridReadingOut'>
type Photo = Schema<'GridPhotoOut'>

const LIGHTS: [Schema<'PhotoLight'>, string][] = [
  ['plain', 'plain light'],
  ['dark_ground', 'on a dark ground'],
  ['aslant', 'lamp from the side'],
  ['loupe', 'through a loupe, one cell'],
]

/** Photos of the washed grid: taken, squared up, kept. */
export function PhotosCard({
  job,
  grid,
  reading,
  selected,
}: {
  job: Job
  grid: Schema<'GridOut'>
  reading: Reading
  selected: string
}) {
  const writes = usePhotoWrites(job.id, grid.id ?? 0)
  const [light, setLight] = useState<Schema<'PhotoLight'>>('plain')
  const [spare, setSpare] = useState(1)
  const [waiting, setWaiting] = useState<File | null>(null)
  const send = (photo: File) => {
    setWaiting(photo)
    writes.add.mutate(
      { photo, spare, light, only: light === 'loupe' ? selected : '' },
      { onSuccess: () => setWaiting(null) },
    )
  }
  return (
    <Card
      title="Photos of the washed piece"
      aside={
        reading.cells.length > 0 ? (
          <span className="flex gap-2">
            <FileLink href={`/api/grids/${grid.id}/measurements/csv`}>Measured: CSV</FileLink>
            <FileLink href={`/api/grids/${grid.id}/measurements/json`}>JSON</FileLink>
          </span>
        ) : undefined
      }
    >
      {reading.photos.length === 0 && (
        <p className="mb-3">
          Wash and dry it, lay it flat on a plain ground, whole frame in the picture, no glare. Every cell is
          measured and a rating proposed. Rating by eye needs no photo.
        </p>
      )}
      <div className="flex flex-wrap items-end gap-3">
        <div className="w-52">
          <SelectField
            label="Looked at"
            name="light"
            value={light}
            onChange={(e) => setLight(e.target.value as Schema<'PhotoLight'>)}
          >
            {LIGHTS.map(([key, label]) => (
              <option key={key} value={key}>
                {key === 'loupe' ? `${label}: ${selected}` : label}
              </option>
            ))}
          </SelectField>
        </div>
        {reading.spares > 1 && (
          <div className="w-28">
            <SelectField
              label="Spare"
              name="spare"
              value={spare}
              onChange={(e) => setSpare(Number(e.target.value))}
            >
              {Array.from({ length: reading.spares }, (_, n) => (
                <option key={n}>{n + 1}</option>
              ))}
            </SelectField>
          </div>
        )}
        <FilePick
          main={reading.photos.length === 0 && !job.practice}
          pick={send}
          disabled={writes.add.isPending}
        >
          {writes.add.isPending ? 'Reading …' : reading.photos.length ? 'Another photo' : 'Photograph it'}
        </FilePick>
      </div>
      {writes.add.error && (
        <div className="mt-3">
          <Problem error={writes.add.error} again={waiting ? () => send(waiting) : undefined} />
        </div>
      )}
      {job.practice && (
        <PracticeShot
          busy={writes.practise.isPending}
          error={writes.practise.error}
          shoot={(trouble) => writes.practise.mutate({ spare, trouble })}
        />
      )}
      <ul className="mt-4 grid gap-4 lg:grid-cols-2">
        {reading.photos.map((photo) => (
          <PhotoRow key={photo.id} photo={photo} writes={writes} />
        ))}
      </ul>
    </Card>
  )
}

function PracticeShot({
  busy,
  error,
  shoot,
}: {
  busy: boolean
  error: unknown
  shoot: (trouble: string) => void
}) {
  const [trouble, setTrouble] = useState('none')
  const troubles = usePractice().data?.troubles ?? []
  return (
    <div className="mt-3 flex flex-wrap items-end gap-3 border-t border-line pt-3">
      <div className="w-52">
        <SelectField
          label="Simulated phone takes"
          name="trouble"
          value={trouble}
          onChange={(e) => setTrouble(e.target.value)}
        >
          {troubles.map(({ key, label }) => (
            <option key={key} value={key}>
              {label}
            </option>
          ))}
        </SelectField>
      </div>
      <Button look="main" disabled={busy} onClick={() => shoot(trouble)}>
        {busy ? 'Photographing …' : 'Take a simulated photo'}
      </Button>
      {!!error && <Problem error={error} />}
    </div>
  )
}

function PhotoRow({ photo, writes }: { photo: Photo; writes: ReturnType<typeof usePhotoWrites> }) {
  const [marking, setMarking] = useState(false)
  const busy = writes.mark.isPending || writes.drop.isPending
  if (marking)
    return (
      <li className="lg:col-span-2">
        <CornerMarker
          src={`/api/grid-photos/${photo.id}/view`}
          of={photo.only ? `the patch of ${photo.only}` : 'the frame, the filled corner first'}
          frame="corners"
          points={photo.points?.map(([x = 0, y = 0]) => ({ x, y })) ?? null}
          busy={busy}
          save={(points) =>
            writes.mark.mutate(
              { id: photo.id, points, mirrored: photo.mirrored, version: photo.version },
              { onSuccess: () => setMarking(false) },
            )
          }
          leave={() => setMarking(false)}
        />
        {writes.mark.error && <Problem error={writes.mark.error} />}
      </li>
    )
  return (
    <li className="min-w-0 rounded-xl border border-line p-3">
      <p className="mb-2 flex flex-wrap justify-between gap-2 text-sm text-soft">
        <span>
          {dayAndClock(photo.at)}, {photo.light_label}
          {photo.only && `, ${photo.only}`}
          {photo.spare > 1 && `, spare ${photo.spare}`}
        </span>
        {photo.simulated && <span className="rounded-full bg-frost-tint px-2 text-frost">simulated</span>}
      </p>
      {photo.trouble ? (
        <div role="alert" className="mb-2 rounded-xl bg-ember-tint p-3">
          <p className="font-bold">{photo.trouble.message}</p>
          <p className="text-soft">
            {photo.trouble.hint} The photo is kept; rating by eye goes on meanwhile.
          </p>
        </div>
      ) : (
        <img
          src={`/api/grid-photos/${photo.id}/upright?${photo.points?.flat().join()}`}
          alt="The grid, squared up"
          className="mx-auto max-h-72 rounded-lg"
        />
      )}
      {!photo.trouble && (
        <p className="mt-1 text-sm text-soft">
          {photo.cells} cell{photo.cells === 1 ? '' : 's'} read at {photo.px_per_mm} pixels a mm; a full mark
          has {photo.full_l?.toFixed(0)} L*{photo.mirrored && '; seen from behind, turned round'}
        </p>
      )}
      <div className="mt-1 flex flex-wrap gap-x-4">
        <Button look="quiet" disabled={busy} onClick={() => setMarking(true)}>
          Mark the corners
        </Button>
        <Button look="quiet" disabled={busy} onClick={() => writes.drop.mutate(photo.id)}>
          Throw away
        </Button>
      </div>
      {writes.drop.error && <Problem error={writes.drop.error} />}
    </li>
  )
}
