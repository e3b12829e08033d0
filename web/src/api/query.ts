/** Figures as an address carries them; what is not told is left out. */
export function asQuery(wish: object) {
  const told = Object.entries(wish).filter(([, value]) => value !== undefined && value !== null)
  return new URLSearchParams(told.map(([key, value]) => [key, String(value)])).toString()
}
