/** The two figures of a point as they are typed. */
export type Row = [string, string]

/** The points of the rows that hold two figures; null while one is half typed. */
export function readSpots(rows: Row[]): [number, number][] | null {
  const begun = rows.filter(([x, y]) => x.trim() || y.trim())
  const spots = begun.map((pair) => pair.map((text) => Number(text.replace(',', '.'))) as [number, number])
  const whole = begun.every(
    (pair, n) => pair.every((text) => text.trim()) && spots[n]?.every(Number.isFinite),
  )
  return whole ? spots : null
}

/** Kept points as rows to type in, and empty ones until there are so many. */
export function rowsOf(points: number[][], least: number): Row[] {
  const kept = points.map(([x, y]): Row => [String(x), String(y)])
  return [...kept, ...Array.from({ length: Math.max(0, least - kept.length) }, (): Row => ['', ''])]
}
