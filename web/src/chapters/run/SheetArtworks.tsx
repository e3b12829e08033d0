import { useArtFigures, useArtworks } from '../../api/hooks'
import type { Schema } from '../../api/client'
import type { Job } from '../../api/types'
import { Card } from '../../ui/parts'
import { SteadyPicture } from '../../ui/SteadyPicture'
import { showMinutes } from '../../ui/units'

/** The artworks of the sheet: picture, time, the file's name. */
export function SheetArtworks({ job }: { job: Job }) {
  const all = useArtworks(job.id).data
  if (!all?.base || all.artworks.length === 0) return null
  const { stamp } = all.base
  return (
    <Card title="Artwork">
      <ul className="grid gap-4 sm:grid-cols-2">
        {all.artworks.map((artwork) => (
          <OnSheet key={artwork.id} job={job} artwork={artwork} stamp={stamp} />
        ))}
      </ul>
    </Card>
  )
}

function OnSheet({ job, artwork, stamp }: { job: Job; artwork: Schema<'ArtworkOut'>; stamp: string }) {
  const figures = useArtFigures(job.id, artwork, stamp, 0).data
  return (
    <li className="flex min-w-0 gap-3">
      <div className="w-32 shrink-0">
        <SteadyPicture
          alt={`${artwork.name} as it will burn`}
          src={`/api/artworks/${artwork.id}/view.png?px=320&v=${artwork.version}-${stamp}`}
          ratio={job.face.width_mm / job.face.height_mm}
        />
      </div>
      <div className="min-w-0">
        <p className="font-bold">{artwork.name}</p>
        {figures && <p>about {showMinutes(figures.seconds / 60)} a piece</p>}
        <p className="text-sm wrap-break-word text-soft">{artwork.stem}-piece1.gcode</p>
      </div>
    </li>
  )
}
