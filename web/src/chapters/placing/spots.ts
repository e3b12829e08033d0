/** The points of the rows that hold two figures; null while one is half typed. */
export function readSpots(rows: [string, string][]): [number, number][] | null {
  const begun = rows.filter(([x, y]) => x.trim() || y.trim())
  const spots = begun.map((pair) => pair.map((text) => Number(text.replace(',', '.'))) as [number, number])
  const whole = begun.every(
    (pair, n) => pair.every((text) => text.trim()) && spots[n]?.every(Number.isFinite),
  )
  return whole ? spots : null
}
