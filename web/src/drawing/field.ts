import { contours } from 'd3-contour'

export interface Plane {
  speeds: number[]
  powers: number[]
  x: (speed: number) => number
  y: (power: number) => number
}

/** Reads the value at fractional place `at` of a log-spaced axis. */
function along(axis: number[], at: number): number {
  const clamped = Math.min(axis.length - 1, Math.max(0, at))
  const low = Math.min(axis.length - 2, Math.floor(clamped))
  const a = axis[low] ?? 1
  const b = axis[low + 1] ?? a
  return a * (b / a) ** (clamped - low)
}

/** SVG paths of the regions where `share` [power][speed] is at least each threshold. */
export function regions(share: number[][], thresholds: number[], plane: Plane): string[] {
  const columns = plane.speeds.length
  const rows = plane.powers.length
  const make = contours().size([columns, rows]).smooth(true)
  const values = share.flat()
  return thresholds.map((threshold) =>
    make
      .contour(values, threshold)
      .coordinates.map((polygon) =>
        polygon
          .map(
            (ring) =>
              'M' +
              ring
                .map(([gx = 0, gy = 0]) => {
                  // d3-contour puts the value of cell i at i + ½.
                  const x = plane.x(along(plane.speeds, gx - 0.5))
                  const y = plane.y(along(plane.powers, gy - 0.5))
                  return `${x.toFixed(1)} ${y.toFixed(1)}`
                })
                .join('L') +
              'Z',
          )
          .join(''),
      )
      .join(''),
  )
}

/** The energies of the diagonals: one, two, five in every decade that the plane holds. */
export function diagonals(low: number, high: number): number[] {
  const steps: number[] = []
  for (let decade = Math.floor(Math.log10(low)); decade <= Math.ceil(Math.log10(high)); decade++)
    for (const lead of [1, 2, 5]) {
      const energy = lead * 10 ** decade
      if (energy > low && energy < high) steps.push(Number(energy.toPrecision(1)))
    }
  return steps
}

/** Round figures for a log axis. */
export function logTicks(low: number, high: number, most: number): number[] {
  const all = diagonals(low * 0.999, high * 1.001)
  return all.length <= most ? all : all.filter((_, index) => index % Math.ceil(all.length / most) === 0)
}

/** The place of the value nearest to `at` on a log-spaced axis. */
export function nearest(axis: number[], at: number): number {
  let best = 0
  axis.forEach((value, index) => {
    if (Math.abs(Math.log(value / at)) < Math.abs(Math.log((axis[best] ?? 1) / at))) best = index
  })
  return best
}
