import { scaleLog } from 'd3-scale'
import { area, line } from 'd3-shape'
import { useState, type KeyboardEvent, type PointerEvent } from 'react'
import type { Schema } from '../api/client'
import { LockedMark } from './LockedMark'
import { RatingMark } from './RatingMark'
import { figure, inUnit, showEnergy, showMinutes, toBase, useUnits } from '../ui/units'
import { useWidth } from '../ui/useSize'
import { diagonals, logTicks, nearest, regions } from './field'

type WindowData = Schema<'WindowOut'>
export interface MapPlace {
  power_pct: number
  speed_mm_s: number
}

const SOFT_EDGES = [0.1, 0.2, 0.3, 0.4, 0.5, 0.6, 0.7, 0.8, 0.9]
const NUDGE = 1.04

/** Log speed against log power: where pieces come out clean, both boundaries with their bands, the rated cells. */
export function WindowMap({
  data,
  place,
  pick,
  reset,
}: {
  data: WindowData
  place: MapPlace | null
  pick: (place: MapPlace) => void
  reset: () => void
}) {
  const { speed, showSpeed } = useUnits()
  const [over, setOver] = useState<MapPlace | null>(null)
  const { ref, width } = useWidth(560)
  const { map } = data
  const narrow = width < 460
  const height = Math.round(Math.min(560, Math.max(300, width * (narrow ? 1.05 : 0.86))))
  const box = { left: 40, right: Math.max(width, 240) - 40, top: 48, bottom: height - 42 }
  const [slow, fast] = [map.speeds_mm_s[0] ?? 1, map.speeds_mm_s.at(-1) ?? 10]
  const least = map.powers_pct[0] ?? 1
  const x = scaleLog([slow, fast], [box.left, box.right])
  const y = scaleLog([least, 100], [box.bottom, box.top])
  const plane = {
    speeds: map.speeds_mm_s,
    powers: map.powers_pct,
    x: (v: number) => x(v),
    y: (p: number) => y(p),
  }
  const faint = map.clean.map((row, r) => row.map((c, s) => 1 - c - (map.harsh[r]?.[s] ?? 0)))
  const energyAt = (power: number, v: number) => (map.energy_factor * power) / v
  const newest = data.locked[0]
  const locked = data.art === 'strokes' ? newest?.strokes : newest
  const lockedHere = locked?.interval_mm === data.interval_mm && locked.passes === data.passes ? locked : null
  const shown = data.rated.filter((r) => r.interval_mm === data.interval_mm && r.passes === data.passes)

  const clamped = (power: number, v: number): MapPlace => ({
    power_pct: Number(Math.min(100, Math.max(least, power)).toFixed(1)),
    speed_mm_s: Number(Math.min(fast, Math.max(slow, v)).toPrecision(3)),
  })
  const press = (event: PointerEvent<SVGRectElement>) => {
    const bounds = event.currentTarget.ownerSVGElement?.getBoundingClientRect()
    if (bounds) pick(clamped(y.invert(event.clientY - bounds.top), x.invert(event.clientX - bounds.left)))
  }
  const hover = (event: PointerEvent<SVGRectElement>) => {
    const bounds = event.currentTarget.ownerSVGElement?.getBoundingClientRect()
    if (bounds && event.pointerType === 'mouse')
      setOver(clamped(y.invert(event.clientY - bounds.top), x.invert(event.clientX - bounds.left)))
  }
  /** Minutes that a square decimetre takes at this speed, turns not counted. */
  const minutesAt = (v: number) => map.minutes_factor / v
  const under = (place: MapPlace | null) => place && readOut(map, place, showSpeed)
  const keys = (event: KeyboardEvent) => {
    if (event.key === 'r') return reset()
    if (!place) return
    const step = event.shiftKey ? NUDGE ** 4 : NUDGE
    const move: Record<string, MapPlace> = {
      ArrowUp: clamped(place.power_pct * step, place.speed_mm_s),
      ArrowDown: clamped(place.power_pct / step, place.speed_mm_s),
      ArrowRight: clamped(place.power_pct, place.speed_mm_s * step),
      ArrowLeft: clamped(place.power_pct, place.speed_mm_s / step),
    }
    const to = move[event.key]
    if (to) {
      event.preventDefault()
      pick(to)
    }
  }
  return (
    <div ref={ref}>
      <svg
        width={Math.max(width, 240)}
        height={height}
        className="block max-w-full touch-manipulation rounded-lg"
        tabIndex={0}
        role="application"
        aria-label={spokenPlace(place, speed.label, showSpeed)}
        onKeyDown={keys}
      >
        <defs>
          <clipPath id="window-plane">
            <rect x={box.left} y={box.top} width={box.right - box.left} height={box.bottom - box.top} />
          </clipPath>
        </defs>
        <g clipPath="url(#window-plane)">
          <rect
            x={box.left}
            y={box.top}
            width={box.right - box.left}
            height={box.bottom - box.top}
            className="fill-paper"
          />
          {regions(faint, [0.25, 0.5, 0.75], plane).map((d, i) => (
            <path key={`f${i}`} d={d} className="fill-frost" opacity={0.09} />
          ))}
          {regions(map.harsh, [0.25, 0.5, 0.75], plane).map((d, i) => (
            <path key={`h${i}`} d={d} className="fill-ember" opacity={0.1} />
          ))}
          {regions(map.clean, SOFT_EDGES, plane).map((d, i) => (
            <path key={`c${i}`} d={d} className="fill-glaze" opacity={0.075} />
          ))}
          <Boundary line_={map.enough} plane={plane} className="stroke-frost" band="fill-frost" />
          <Boundary line_={map.too_much} plane={plane} className="stroke-ember" band="fill-ember" />
        </g>
        {diagonals(energyAt(least, fast), energyAt(100, slow)).map((energy) => {
          const atTop = (map.energy_factor * 100) / energy
          const leavesTop = atTop <= fast && atTop >= slow
          const powerAtRight = (energy * fast) / map.energy_factor
          const powerAtLeft = (energy * slow) / map.energy_factor
          const start =
            powerAtLeft >= least
              ? [x(slow), y(powerAtLeft)]
              : [x((map.energy_factor * least) / energy), y(least)]
          const end = leavesTop ? [x(atTop), y(100)] : [x(fast), y(powerAtRight)]
          return (
            <g key={energy}>
              <line
                x1={start[0]}
                y1={start[1]}
                x2={end[0]}
                y2={end[1]}
                className="stroke-soft"
                strokeDasharray="1 5"
                strokeLinecap="round"
                opacity={0.7}
              />
              <text
                x={leavesTop ? end[0] : (end[0] ?? 0) + 4}
                y={leavesTop ? box.top - 6 : end[1]}
                textAnchor={leavesTop ? 'middle' : 'start'}
                dominantBaseline={leavesTop ? 'auto' : 'central'}
                className="fill-soft font-mono text-[11px]"
              >
                {energy}
              </text>
            </g>
          )
        })}
        <text x={box.right + 36} y={12} textAnchor="end" className="fill-soft text-xs">
          {narrow ? 'dots: J/mm²' : 'dotted: J/mm², upright: min/dm²'}
        </text>
        {logTicks(minutesAt(fast), minutesAt(slow), narrow ? 3 : 5).map((minutes) => {
          const at = x(map.minutes_factor / minutes)
          return (
            <g key={`t${minutes}`}>
              <line
                x1={at}
                y1={box.top}
                x2={at}
                y2={box.bottom}
                className="stroke-line"
                strokeDasharray="6 4"
              />
              <text x={at} y={box.top - 20} textAnchor="middle" className="fill-soft font-mono text-[11px]">
                {minutes}′
              </text>
            </g>
          )
        })}
        {logTicks(inUnit(slow, speed), inUnit(fast, speed), narrow ? 4 : 7).map((tick) => {
          const at = x(toBase(tick, speed))
          return (
            <text
              key={tick}
              x={at}
              y={box.bottom + 16}
              textAnchor="middle"
              className="fill-soft font-mono text-xs"
            >
              {tick}
            </text>
          )
        })}
        <text x={box.right} y={box.bottom + 34} textAnchor="end" className="fill-soft text-xs">
          speed, {speed.label}
        </text>
        {logTicks(least, 100, 6).map((tick) => (
          <text
            key={tick}
            x={box.left - 6}
            y={y(tick)}
            textAnchor="end"
            dominantBaseline="central"
            className="fill-soft font-mono text-xs"
          >
            {tick}
          </text>
        ))}
        <text x={0} y={12} className="fill-soft text-xs">
          power, %
        </text>
        {shown.map((cell) => (
          <g key={cell.code}>
            <title>{`${cell.code}, ${cell.rating}`}</title>
            <RatingMark
              rating={cell.rating}
              x={x(cell.speed_mm_s)}
              y={y(cell.power_pct)}
              size={narrow ? 5 : 6}
            />
          </g>
        ))}
        <rect
          x={box.left}
          y={box.top}
          width={box.right - box.left}
          height={box.bottom - box.top}
          className="cursor-crosshair fill-transparent stroke-soft"
          strokeWidth={1.5}
          onPointerDown={press}
          onPointerMove={hover}
          onPointerLeave={() => setOver(null)}
        />
        {place && (
          <g pointerEvents="none" transform={`translate(${x(place.speed_mm_s)} ${y(place.power_pct)})`}>
            <circle r={17} className="fill-none stroke-card" strokeWidth={6} />
            <circle r={17} className="fill-none stroke-ink" strokeWidth={2.5} />
            <circle r={3.5} className="fill-ink" />
            <path d="M-25 0H-17M17 0H25M0 -25V-17M0 17V25" className="stroke-ink" strokeWidth={2.5} />
          </g>
        )}
        {lockedHere && (
          <g pointerEvents="none">
            <title>{`Locked, version ${newest?.version}`}</title>
            <LockedMark x={x(lockedHere.speed_mm_s)} y={y(lockedHere.power_pct)} />
          </g>
        )}
      </svg>
      <p className="mt-1 min-h-10 font-mono text-sm" aria-hidden>
        {under(over ?? place)}
      </p>
      <p className="sr-only" role="status">
        {under(place)}
      </p>
      <p className="mt-1 text-sm text-soft">
        Press anywhere, or use the arrow keys, to read another setting.
        {shown.length < data.rated.length &&
          ` ${data.rated.length - shown.length} cells with other lines or passes count, but are not drawn.`}{' '}
        Lines in {figure(data.interval_mm, 3)} mm, {data.passes} {data.passes > 1 ? 'passes' : 'pass'}
        {map.film_share !== 1 && `, film ${Math.round(100 * map.film_share)} % of this coat`}. The frame is
        this machine&apos;s reach.
        {lockedHere && ` The diamond with a keyhole is locked version ${newest?.version}.`}
      </p>
    </div>
  )
}

/** What the map holds under a place: read off the drawn field, rounded. */
function readOut(map: Schema<'MapOut'>, place: MapPlace, showSpeed: (v: number) => string): string {
  const row = nearest(map.powers_pct, place.power_pct)
  const column = nearest(map.speeds_mm_s, place.speed_mm_s)
  const clean = map.clean[row]?.[column] ?? 0
  const harsh = map.harsh[row]?.[column] ?? 0
  const share = (v: number) => `${Math.round(100 * v)} %`
  const energy = (map.energy_factor * place.power_pct) / place.speed_mm_s
  return (
    `${place.power_pct} %, ${showSpeed(place.speed_mm_s)}: clean ${share(clean)}, ` +
    `faint ${share(Math.max(0, 1 - clean - harsh))}, harsh ${share(harsh)}; ` +
    `${showEnergy(energy)}, ${showMinutes(map.minutes_factor / place.speed_mm_s)}/dm²`
  )
}

function Boundary({
  line_,
  plane,
  className,
  band,
}: {
  line_: Schema<'BoundaryOut'>
  plane: { speeds: number[]; x: (v: number) => number; y: (p: number) => number }
  className: string
  band: string
}) {
  const at = (values: number[], i: number) => plane.y(Math.max(1e-3, values[i] ?? 1))
  const places = plane.speeds.map((_, i) => i)
  const px = (i: number) => plane.x(plane.speeds[i] ?? 1)
  const drawBand = area<number>(
    px,
    (i) => at(line_.low_pct, i),
    (i) => at(line_.high_pct, i),
  )
  const drawLine = line<number>(px, (i) => at(line_.mid_pct, i))
  return (
    <>
      <path d={drawBand(places) ?? ''} className={band} opacity={0.1} />
      <path d={drawLine(places) ?? ''} className={`fill-none ${className}`} strokeWidth={2} />
    </>
  )
}

function spokenPlace(place: MapPlace | null, unit: string, showSpeed: (mm_s: number) => string): string {
  const where = place
    ? `Chosen: ${place.power_pct} per cent at ${showSpeed(place.speed_mm_s)}.`
    : 'Nothing is chosen.'
  return `Window map, power against speed in ${unit}. ${where} Arrow keys move it.`
}
