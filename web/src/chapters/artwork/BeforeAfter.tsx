import { useRef, useState, type PointerEvent } from 'react'
import { SteadyPicture } from '../../ui/SteadyPicture'
import type { Artwork, Edit, Spec } from './useArtworkEdit'

type Crop = Spec['tone']['crop']
type Corner = { x: number; y: number }
const LEAST = 0.02

/** The photo as it was brought, its crop drawn on it by hand, beside what its tones make of it. */
export function BeforeAfter({ artwork, edit }: { artwork: Artwork; edit: Edit }) {
  const { crop } = edit.spec.tone
  const [from, setFrom] = useState<Corner | null>(null)
  const [drawn, setDrawn] = useState<Crop | null>(null)
  const photo = useRef<HTMLDivElement>(null)
  const at = (event: PointerEvent): Corner => {
    const box = photo.current?.getBoundingClientRect()
    if (!box) return { x: 0, y: 0 }
    return { x: share(event.clientX - box.left, box.width), y: share(event.clientY - box.top, box.height) }
  }
  const end = () => {
    if (drawn) edit.tone({ crop: drawn })
    setFrom(null)
    setDrawn(null)
  }
  const shown = drawn ?? crop
  const [kept, shape] = [artwork.spec.tone.crop, 1 / artwork.height_per_width]
  const address = `/api/artworks/${artwork.id}/photo.png`
  return (
    <div className="grid grid-cols-2 items-start gap-2">
      <figure>
        <div
          ref={photo}
          className="relative cursor-crosshair touch-none overflow-hidden rounded-lg select-none"
          onPointerDown={(event) => {
            event.currentTarget.setPointerCapture(event.pointerId)
            setFrom(at(event))
          }}
          onPointerMove={(event) => from && setDrawn(between(from, at(event)))}
          onPointerUp={end}
          onPointerCancel={() => {
            setFrom(null)
            setDrawn(null)
          }}
        >
          <SteadyPicture
            src={address}
            alt="The photo as it was brought"
            ratio={(shape * highOf(kept)) / wideOf(kept)}
          />
          <span
            aria-hidden
            className="pointer-events-none absolute border-2 border-paper outline outline-ink"
            style={{
              left: `${100 * shown.left}%`,
              top: `${100 * shown.top}%`,
              width: `${100 * wideOf(shown)}%`,
              height: `${100 * highOf(shown)}%`,
              boxShadow: '0 0 0 999px rgb(0 0 0 / 0.45)',
            }}
          />
        </div>
        <figcaption className="mt-1 text-sm text-soft">As it came: draw on it what is kept.</figcaption>
      </figure>
      <figure>
        <SteadyPicture
          src={`${address}?is_toned=true&v=${artwork.version}`}
          alt="The photo with its tones set"
          ratio={shape}
        />
        <figcaption className="mt-1 text-sm text-soft">With these tones, before it becomes dots.</figcaption>
      </figure>
    </div>
  )
}

const share = (px: number, of: number) => Math.min(1, Math.max(0, Math.round((100 * px) / of) / 100))

const wideOf = (crop: Crop) => crop.right - crop.left
const highOf = (crop: Crop) => crop.bottom - crop.top

/** What two corners keep, null for what is hardly anything: a press that drew nothing changes nothing. */
const between = (one: Corner, other: Corner): Crop | null => {
  const kept = {
    left: Math.min(one.x, other.x),
    right: Math.max(one.x, other.x),
    top: Math.min(one.y, other.y),
    bottom: Math.max(one.y, other.y),
  }
  return wideOf(kept) > LEAST && highOf(kept) > LEAST ? kept : null
}
