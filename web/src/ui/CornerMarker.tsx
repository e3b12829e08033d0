import { useRef, useState, type KeyboardEvent, type PointerEvent } from 'react'
import type { Schema } from '../api/client'
import { Button } from './parts'

type Point = [number, number]

const START: Record<string, Point[]> = {
  rim: [
    [0.5, 0.15],
    [0.82, 0.5],
    [0.5, 0.85],
    [0.18, 0.5],
  ],
  corners: [
    [0.15, 0.15],
    [0.85, 0.15],
    [0.85, 0.85],
    [0.15, 0.85],
  ],
}
const NAMES: Record<string, string[]> = {
  rim: ['top of the rim', 'right of the rim', 'bottom of the rim', 'left of the rim'],
  corners: ['upper left corner', 'upper right corner', 'lower right corner', 'lower left corner'],
}
const STEP: Record<string, Point> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
}

/** Four points on the photo, dragged or moved by the arrow keys (Shift: faster). */
export function CornerMarker({
  src,
  of,
  frame,
  points,
  busy,
  save,
  leave,
}: {
  src: string
  of: string
  frame: string
  points: Schema<'PicturePoint'>[] | null
  busy: boolean
  save: (points: Schema<'PicturePoint'>[] | null) => void
  leave: () => void
}) {
  const kind = frame === 'rim' ? 'rim' : 'corners'
  const [at, setAt] = useState<Point[]>(points?.map(({ x, y }) => [x, y]) ?? START[kind] ?? [])
  const area = useRef<HTMLDivElement>(null)
  const move = (index: number, point: Point) =>
    setAt(at.map((old, i) => (i === index ? [clamp(point[0]), clamp(point[1])] : old)))
  const drag = (index: number) => (event: PointerEvent) => {
    const box = area.current?.getBoundingClientRect()
    if (!box || !event.buttons) return
    move(index, [(event.clientX - box.left) / box.width, (event.clientY - box.top) / box.height])
  }
  const nudge = (index: number) => (event: KeyboardEvent) => {
    const step = STEP[event.key]
    const old = at[index]
    if (!step || !old) return
    event.preventDefault()
    const size = event.shiftKey ? 0.02 : 0.002
    move(index, [old[0] + size * step[0], old[1] + size * step[1]])
  }
  return (
    <div>
      <p className="mb-2">
        Drag the four points onto {kind === 'rim' ? 'the rim' : 'the corners'} of {of}; or press Tab and the
        arrow keys.
      </p>
      <div ref={area} className="relative min-h-48 touch-none rounded-lg bg-line select-none">
        <img src={src} alt="What the camera saw" className="w-full rounded-lg" />
        <svg
          viewBox="0 0 1 1"
          preserveAspectRatio="none"
          className="pointer-events-none absolute inset-0 size-full"
        >
          <polygon
            points={at.map((p) => p.join(',')).join(' ')}
            className="fill-none stroke-ember"
            strokeWidth={2}
            vectorEffect="non-scaling-stroke"
          />
        </svg>
        {at.map((point, index) => (
          <button
            key={index}
            type="button"
            aria-label={`${NAMES[kind]?.[index]}, ${Math.round(100 * point[0])} % across, ${Math.round(100 * point[1])} % down`}
            className="absolute size-11 -translate-x-1/2 -translate-y-1/2 cursor-move rounded-full border-3 border-ember bg-card/30"
            style={{ left: `${100 * point[0]}%`, top: `${100 * point[1]}%` }}
            onPointerDown={(event) => event.currentTarget.setPointerCapture(event.pointerId)}
            onPointerMove={drag(index)}
            onKeyDown={nudge(index)}
          >
            <span className="mx-auto block size-1.5 rounded-full bg-ember" />
          </button>
        ))}
      </div>
      <div className="mt-3 flex flex-wrap gap-3">
        <Button look="main" disabled={busy} onClick={() => save(at.map(([x, y]) => ({ x, y })))}>
          Measure with these
        </Button>
        <Button disabled={busy} onClick={() => save(null)}>
          Find them anew
        </Button>
        <Button look="quiet" onClick={leave}>
          Leave it
        </Button>
      </div>
    </div>
  )
}

function clamp(share: number): number {
  return Math.min(1, Math.max(0, share))
}
