import { RotateCcw } from 'lucide-react'
import { FigureField } from '../../ui/FigureField'
import { RefusalScope, TickField } from '../../ui/form'
import { Button, Card } from '../../ui/parts'
import type { Artwork, Base, Edit } from './useArtworkEdit'

/** Where it lies on the piece: size and place typed, moved to edges, turned. */
export function PlaceCard({ artwork, base, edit }: { artwork: Artwork; base: Base; edit: Edit }) {
  const { placement, bleed_mm } = edit.spec
  const turned = placement.quarter_turns % 2 === 1
  const high = placement.width_mm * artwork.height_per_width
  const half_w = (turned ? high : placement.width_mm) / 2
  const half_h = (turned ? placement.width_mm : high) / 2
  const at = (across: -1 | 0 | 1, up: -1 | 0 | 1) => ({
    x_mm: rounded(across * (base.width_mm / 2 - half_w)),
    y_mm: rounded(up * (base.height_mm / 2 - half_h)),
  })
  const wide_high = turned ? 1 / artwork.height_per_width : artwork.height_per_width
  const room = { wide: base.room_width_mm + 2 * bleed_mm, high: base.room_height_mm + 2 * bleed_mm }
  const covering = Math.max(room.wide, room.high / wide_high)
  return (
    <RefusalScope error={edit.error}>
      <Card title="Place">
        <div className="grid grid-cols-3 gap-2">
          <FigureField
            label="Width"
            name="width_mm"
            value={placement.width_mm}
            set={(width_mm) => edit.place({ width_mm })}
          />
          <FigureField
            label="Right"
            name="x_mm"
            value={placement.x_mm}
            set={(x_mm) => edit.place({ x_mm })}
          />
          <FigureField label="Up" name="y_mm" value={placement.y_mm} set={(y_mm) => edit.place({ y_mm })} />
        </div>
        <p className="mt-1 text-sm text-soft">
          {placement.width_mm.toFixed(1)} × {high.toFixed(1)} mm; right and up from the middle of the piece.
          Arrow keys with Shift move it on the picture.
        </p>
        <div className="mt-2 flex flex-wrap gap-2">
          <Button onClick={() => edit.place({ x_mm: 0, y_mm: 0 })}>Middle</Button>
          <Button onClick={() => edit.place(at(-1, 0))}>Left edge</Button>
          <Button onClick={() => edit.place(at(1, 0))}>Right edge</Button>
          <Button onClick={() => edit.place(at(0, 1))}>Top</Button>
          <Button onClick={() => edit.place(at(0, -1))}>Bottom</Button>
          {artwork.kind === 'picture' && (
            <Button
              onClick={() =>
                edit.place({
                  x_mm: 0,
                  y_mm: 0,
                  width_mm: rounded(Math.ceil(100 * (turned ? covering * wide_high : covering)) / 100),
                })
              }
            >
              Cover the coat
            </Button>
          )}
          <Button onClick={() => edit.place({ quarter_turns: (placement.quarter_turns + 1) % 4 })}>
            <RotateCcw aria-hidden className="size-4" /> Turn
          </Button>
        </div>
        <div className="mt-3">
          <TickField checked={edit.spec.across} onChange={(e) => edit.change({ across: e.target.checked })}>
            The piece lies turned a quarter on the bed
          </TickField>
          <p className="mt-1 text-sm text-soft">
            Then lines run up it: quicker where artwork is high and narrow, and out of shapes that would show
            them.
          </p>
        </div>
        {artwork.kind === 'picture' && (
          <div className="mt-3 w-1/2 pr-1">
            <FigureField
              label="Past the coat’s edge"
              name="bleed_mm"
              value={bleed_mm}
              set={(mm) => edit.change({ bleed_mm: mm })}
            />
          </div>
        )}
      </Card>
    </RefusalScope>
  )
}

const rounded = (mm: number) => Math.round(100 * mm) / 100

/** A length in mm; half-typed figures wait until they are whole. */
