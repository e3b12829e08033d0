import { Radio, RadioGroup } from '@headlessui/react'
import { useEffect, useRef, useState } from 'react'
import type { Schema } from '../api/client'
import { filmColour } from './filmScale'

type Reading = Schema<'ReadingOut'>

const MARKS: Record<string, { letter: string; tone: string; label: string }> = {
  thin: { letter: 'T', tone: 'stroke-frost', label: 'thin' },
  bare: { letter: 'B', tone: 'stroke-frost', label: 'nearly bare' },
  pooled: { letter: 'P', tone: 'stroke-ember', label: 'pooled' },
  pinhole: { letter: '', tone: 'stroke-ink', label: 'pinhole' },
  crack: { letter: 'C', tone: 'stroke-ink', label: 'crack' },
  shine: { letter: 'S', tone: 'stroke-frost', label: 'shine' },
}

/** The coat on the piece in 1 mm squares, with its faults; or the photo squared up under them. */
export function FilmMap({ reading, photoId }: { reading: Reading; photoId: number }) {
  const [shown, setShown] = useState<'film' | 'photo'>('film')
  const { width_mm: width, height_mm: height } = reading
  const hair = Math.max(width, height) / 260
  const box = (fault: Schema<'FaultOut'>) => ({
    x: fault.x_mm - 0.6,
    y: fault.y_mm - 0.6,
    width: fault.width_mm + 1.2,
    height: fault.height_mm + 1.2,
  })
  return (
    <figure>
      <RadioGroup value={shown} onChange={setShown} aria-label="What to show" className="mb-2 flex gap-2">
        {(['film', 'photo'] as const).map((way) => (
          <Radio
            key={way}
            value={way}
            className="flex min-h-11 cursor-pointer items-center rounded-xl border border-line px-4 text-soft data-checked:border-glaze data-checked:font-bold data-checked:text-ink"
          >
            {way === 'film' ? 'Film' : 'Photo'}
          </Radio>
        ))}
      </RadioGroup>
      <div
        className="relative mx-auto"
        style={{ aspectRatio: `${width} / ${height}`, maxHeight: 360, maxWidth: (360 * width) / height }}
      >
        {shown === 'film' ? (
          <Squares squares={reading.squares} round={reading.frame === 'rim'} />
        ) : (
          <img
            src={`/api/coat/photos/${photoId}/upright`}
            alt="The photo, squared up"
            className={`absolute inset-0 size-full ${reading.frame === 'rim' ? 'rounded-full' : ''}`}
          />
        )}
        <svg
          viewBox={`0 0 ${width} ${height}`}
          className="absolute inset-0 size-full"
          role="img"
          aria-label={spoken(reading)}
        >
          {reading.faults.map((fault, index) => {
            const mark = MARKS[fault.kind] ?? { letter: '?', tone: 'stroke-ink', label: fault.kind }
            return (
              <g key={index}>
                {fault.kind === 'pinhole' ? (
                  <circle
                    cx={fault.x_mm + fault.width_mm / 2}
                    cy={fault.y_mm + fault.height_mm / 2}
                    r={1.3}
                    className={`fill-none ${mark.tone}`}
                    strokeWidth={hair}
                  >
                    <title>{mark.label}</title>
                  </circle>
                ) : (
                  <>
                    <rect
                      {...box(fault)}
                      rx={1}
                      className={`fill-none ${mark.tone}`}
                      strokeWidth={2 * hair}
                      strokeDasharray={fault.kind === 'crack' ? `${3 * hair} ${2 * hair}` : undefined}
                    >
                      <title>{`${mark.label}, ${fault.area_mm2.toFixed(0)} mm²`}</title>
                    </rect>
                    <text
                      x={fault.x_mm}
                      y={fault.y_mm - 1.2}
                      fontSize={Math.max(width, height) / 26}
                      className="fill-ink font-bold"
                      paintOrder="stroke"
                      stroke="var(--card)"
                      strokeWidth={2 * hair}
                    >
                      {mark.letter}
                    </text>
                  </>
                )}
              </g>
            )
          })}
        </svg>
      </div>
      <figcaption className="mt-2 grid gap-1 text-sm text-soft">
        <Scale />
        <span>{legend(reading)}</span>
      </figcaption>
    </figure>
  )
}

function Squares({ squares, round }: { squares: Reading['squares']; round: boolean }) {
  const ref = useRef<HTMLCanvasElement>(null)
  const rows = squares.length
  const columns = squares[0]?.length ?? 0
  useEffect(() => {
    const context = ref.current?.getContext('2d')
    if (!context || !rows || !columns) return
    const picture = context.createImageData(columns, rows)
    squares.forEach((row, y) =>
      row.forEach((film, x) => {
        const at = 4 * (y * columns + x)
        const [r, g, b] = film === null ? [0, 0, 0] : filmColour(film)
        picture.data.set([r, g, b, film === null ? 0 : 255], at)
      }),
    )
    context.putImageData(picture, 0, 0)
  }, [squares, rows, columns])
  return (
    <canvas
      ref={ref}
      width={columns}
      height={rows}
      aria-hidden
      className={`absolute inset-0 size-full border border-line [image-rendering:pixelated] ${round ? 'rounded-full' : ''}`}
    />
  )
}

function Scale() {
  const steps = Array.from({ length: 33 }, (_, i) => 0.3 + (i * 1.6) / 32)
  return (
    <span className="flex max-w-md items-center gap-2">
      <span>thin</span>
      <svg viewBox="0 0 33 2" preserveAspectRatio="none" className="h-3 grow rounded" aria-hidden>
        {steps.map((film, i) => (
          <rect key={film} x={i} width={1.05} height={2} fill={`rgb(${filmColour(film).join(' ')})`} />
        ))}
      </svg>
      <span>thick</span>
    </span>
  )
}

function legend(reading: Reading): string {
  const counts = new Map<string, number>()
  for (const fault of reading.faults) counts.set(fault.kind, (counts.get(fault.kind) ?? 0) + 1)
  const named = [...counts].map(([kind, count]) => {
    const mark = MARKS[kind]
    return `${mark?.letter ? `${mark.letter} ` : '○ '}${mark?.label ?? kind}${count > 1 ? ` × ${count}` : ''}`
  })
  return named.length ? named.join(', ') : 'No single place to blame.'
}

function spoken(reading: Reading): string {
  return `The coat in 1 mm squares, ${reading.width_mm.toFixed(0)} by ${reading.height_mm.toFixed(0)} mm. ${legend(reading)}`
}
