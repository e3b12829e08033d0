import { useState, type KeyboardEvent, type MouseEvent } from 'react'
import type { Schema } from '../../api/client'
import { RangeField, TickField } from '../../ui/form'
import { Card } from '../../ui/parts'
import { SteadyPicture } from '../../ui/SteadyPicture'
import { dayAndClock } from '../../ui/units'
import type { Artwork, Base } from './useArtworkEdit'

const BURNED: { way: Schema<'Way'>; name: string; words: string } = {
  way: 'burned',
  name: 'As it will burn',
  words: 'As it is expected to look on the finished piece: a prediction, not a promise.',
}
const WAYS: (typeof BURNED)[] = [
  BURNED,
  { way: 'sent', name: 'As it is sent', words: 'The dots that the beam burns, black on white.' },
  {
    way: 'change',
    name: 'What changes',
    words:
      'Orange: more mark than dots were burned, as they spread. Blue: less, where lone dots and thin lines get too little.',
  },
  {
    way: 'doubt',
    name: 'Where it may fail',
    words: 'Blue: likely faint. Orange: likely harsh. Grey: burned, and likely clean.',
  },
]
const TOLD_AT_ONCE: Schema<'Way'>[] = ['burned', 'sent']
const LOUPE_MM = 8
const STEPS: Record<string, { x: number; y: number }> = {
  ArrowLeft: { x: -1, y: 0 },
  ArrowRight: { x: 1, y: 0 },
  ArrowUp: { x: 0, y: 1 },
  ArrowDown: { x: 0, y: -1 },
}

/** The piece true to its proportions, in three ways, and a loupe on it. */
export function ArtView({
  artwork,
  base,
  piece,
  label,
  push,
}: {
  artwork: Artwork
  base: Base
  piece: number
  label: string
  push: (right_mm: number, up_mm: number) => void
}) {
  const [way, setWay] = useState(0)
  const [film, setFilm] = useState(0)
  const [told, setTold] = useState(false)
  const [spot, setSpot] = useState({ x: 0, y: 0 })
  const { way: key, words } = WAYS[way] ?? BURNED
  const query = new URLSearchParams({
    way: key,
    film_pct: String(key === 'sent' ? 0 : film),
    film_map: String(told && key !== 'sent'),
    piece: String(piece),
    v: `${artwork.version}-${base.stamp}`,
  })
  const address = `/api/artworks/${artwork.id}`
  const moved = (dx: number, dy: number) =>
    setSpot(({ x, y }) => ({
      x: within(x + dx, base.width_mm / 2),
      y: within(y + dy, base.height_mm / 2),
    }))
  const press = (event: MouseEvent<HTMLElement>) => {
    const box = event.currentTarget.getBoundingClientRect()
    if (event.detail === 0) return
    setSpot({
      x: ((event.clientX - box.left) / box.width - 0.5) * base.width_mm,
      y: (0.5 - (event.clientY - box.top) / box.height) * base.height_mm,
    })
  }
  const walk = (event: KeyboardEvent) => {
    const step = STEPS[event.key]
    if (!step) return
    event.preventDefault()
    if (event.shiftKey) push(step.x, step.y)
    else moved(step.x, step.y)
  }
  const share = (mm: number, of: number) => `${(100 * mm) / of}%`
  return (
    <Card title={label ? `On the piece: ${label}` : 'On the piece'}>
      <div role="group" aria-label="What is shown" className="mb-2 flex flex-wrap gap-1">
        {WAYS.map(({ way: of, name }, at) => (
          <button
            key={of}
            aria-pressed={at === way}
            className={`min-h-11 rounded-lg px-3 py-2 ${at === way ? 'bg-frost-tint font-bold text-ink' : 'text-soft'}`}
            onClick={() => setWay(at)}
          >
            {name}
          </button>
        ))}
      </div>
      <button
        className="relative block w-full cursor-crosshair overflow-hidden rounded-lg"
        aria-label={`${artwork.name} on the piece. Press a place, or use the arrow keys, to put the loupe there; arrow keys with Shift move the artwork by a millimetre.`}
        onClick={press}
        onKeyDown={walk}
      >
        <SteadyPicture
          src={`${address}/view.png?px=1000&${query}`}
          coarse={TOLD_AT_ONCE.includes(key) ? `${address}/view.png?is_coarse=true&${query}` : undefined}
          alt=""
          ratio={base.width_mm / base.height_mm}
        />
        <span
          aria-hidden
          className="pointer-events-none absolute border-2 border-glaze bg-transparent outline outline-paper"
          style={{
            width: share(LOUPE_MM, base.width_mm),
            height: share(LOUPE_MM, base.height_mm),
            left: share(base.width_mm / 2 + spot.x - LOUPE_MM / 2, base.width_mm),
            top: share(base.height_mm / 2 - spot.y - LOUPE_MM / 2, base.height_mm),
          }}
        />
      </button>
      <p className="mt-2 text-sm text-soft">{words}</p>
      <div className="mt-3 grid items-start gap-4 sm:grid-cols-[13rem_minmax(0,1fr)]">
        <div>
          <SteadyPicture
            src={`${address}/loupe.png?x_mm=${spot.x.toFixed(2)}&y_mm=${spot.y.toFixed(2)}&${query}`}
            alt={`Loupe on ${spot.x.toFixed(1)} mm right and ${spot.y.toFixed(1)} mm up of the middle`}
            ratio={1}
          />
          <p className="mt-1 text-sm text-soft">
            Loupe: {LOUPE_MM} × {LOUPE_MM} mm, {spot.x.toFixed(1)} mm right, {spot.y.toFixed(1)} mm up
          </p>
        </div>
        {key !== 'sent' && (
          <div className="grid gap-3">
            <RangeField
              label="If the coat comes out thicker or thinner"
              min={-30}
              max={30}
              step={5}
              value={film}
              show={(pct) => `${pct > 0 ? '+' : ''}${pct} %`}
              set={setFilm}
            />
            {base.film_photo && (
              <div>
                <TickField checked={told} onChange={(e) => setTold(e.target.checked)}>
                  On the coat as photographed, {dayAndClock(base.film_photo)}
                </TickField>
                <p className="mt-1 text-sm text-soft">
                  Its thick and thin places show where they would in the mark, on that piece, lying as it lay.
                </p>
              </div>
            )}
          </div>
        )}
      </div>
    </Card>
  )
}

const within = (mm: number, most: number) => Math.min(Math.max(mm, -most), most)
