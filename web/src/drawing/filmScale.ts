/** Colours of the film map: frost for thin, pale where it is even, ember for thick. Even steps to the eye, and safe
 *  for colour-blind people: blue against orange, dark at both ends. */
const STOPS: [number, [number, number, number]][] = [
  [0.3, [36, 74, 130]],
  [0.65, [122, 160, 210]],
  [0.88, [208, 222, 236]],
  [1.0, [243, 243, 236]],
  [1.15, [247, 219, 196]],
  [1.45, [226, 140, 92]],
  [1.9, [150, 48, 16]],
]

export function filmColour(film: number): [number, number, number] {
  const first = STOPS[0] as (typeof STOPS)[0]
  if (film <= first[0]) return first[1]
  for (let i = 1; i < STOPS.length; i++) {
    const [above, high] = STOPS[i] as (typeof STOPS)[0]
    const [below, low] = STOPS[i - 1] as (typeof STOPS)[0]
    if (film <= above) {
      const share = (film - below) / (above - below)
      return low.map((v, k) => Math.round(v + share * ((high[k] ?? 0) - v))) as [number, number, number]
    }
  }
  return (STOPS[STOPS.length - 1] as (typeof STOPS)[0])[1]
}
