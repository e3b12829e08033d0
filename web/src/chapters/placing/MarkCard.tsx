import { useArtworks } from '../../api/hooks'
import type { Job } from '../../api/types'
import { FigureField } from '../../ui/FigureField'
import { SelectField } from '../../ui/form'
import { Button, Card } from '../../ui/parts'
import type { Edit, Placing } from './usePlacingEdit'

/** Which mark is placed, and on a round wall where: up it, in turn, and away from the seam. */
export function MarkCard({ job, edit, placing }: { job: Job; edit: Edit; placing: Placing }) {
  const artworks = useArtworks(job.id).data?.artworks ?? []
  const { mark } = edit.spec
  const { round } = placing
  return (
    <Card title="The mark">
      <SelectField
        label="Artwork"
        name="artwork_id"
        value={edit.artwork_id ?? ''}
        onChange={(e) => edit.place(e.target.value ? Number(e.target.value) : null)}
      >
        <option value="">one of this size</option>
        {artworks.map((artwork) => (
          <option key={artwork.id} value={artwork.id}>
            {artwork.name}
          </option>
        ))}
      </SelectField>
      {edit.artwork_id === null ? (
        <div className="mt-3 grid grid-cols-2 gap-2">
          <FigureField
            label={round ? 'Round the wall' : 'Width'}
            name="mark.width_mm"
            value={mark.width_mm}
            set={(width_mm) => edit.mark({ width_mm })}
          />
          <FigureField
            label="Height"
            name="mark.height_mm"
            value={mark.height_mm}
            set={(height_mm) => edit.mark({ height_mm })}
          />
        </div>
      ) : (
        round && (
          <p className="mt-2 text-sm text-soft">
            {round.mark_width_mm.toFixed(1)} × {round.mark_height_mm.toFixed(1)} mm, as the artwork has it.
          </p>
        )
      )}
      {round && (
        <>
          <div className="mt-3 grid grid-cols-3 gap-2">
            <FigureField
              label="Up"
              name="mark.along_mm"
              placeholder={round.along_mm.toFixed(1)}
              value={mark.along_mm ?? null}
              set={(along_mm) => edit.mark({ along_mm })}
            />
            <FigureField
              label="Turned"
              name="mark.turn_deg"
              unit="°"
              value={mark.turn_deg ?? 0}
              set={(turn_deg) => edit.mark({ turn_deg })}
            />
            <FigureField
              label="Seam"
              name="mark.seam_deg"
              unit="°"
              value={mark.seam_deg ?? 180}
              set={(seam_deg) => edit.mark({ seam_deg })}
            />
          </div>
          {Math.abs(round.half_angle_deg) > 0.05 && (
            <div
              className="mt-3 grid grid-cols-2 gap-2"
              role="group"
              aria-label="How art comes onto the taper"
            >
              {(['level', 'straight'] as const).map((way) => (
                <Button
                  key={way}
                  look={mark.way === way ? 'main' : 'plain'}
                  aria-pressed={mark.way === way}
                  onClick={() => edit.mark({ way })}
                >
                  {way === 'level' ? 'Lines level' : 'Left straight'}
                </Button>
              ))}
            </div>
          )}
        </>
      )}
    </Card>
  )
}
