import type { Schema } from '../api/client'

type Line = Schema<'CostLineOut'>

export const COST_WORDS: Record<Line['kind'], string> = {
  blanks: 'Blanks',
  coat: 'Coat',
  consumables: 'Consumables',
  hands: 'Hands',
  machine: 'Machine',
  power: 'Power',
  finishing: 'Finishing',
  setup: 'Setting up',
  tests: 'Test pieces',
  lost: 'Pieces that fail',
}

const GROUPS: [string, Line['kind'][], string][] = [
  ['material', ['blanks', 'coat', 'consumables'], 'fill-coat'],
  ['hands', ['hands', 'finishing', 'setup'], 'fill-frost'],
  ['machine', ['machine', 'power'], 'fill-glaze'],
  ['tests', ['tests'], 'fill-soft'],
  ['failed', ['lost'], 'fill-ember'],
]
const WIDTH = 320
const HIGH = 132

/** What a good piece is made of, in layers like a coat: the thicker, the dearer; what fails lies on top. */
export function CostStrata({
  lines,
  good,
  show,
}: {
  lines: Line[]
  good: number
  show: (amount: number) => string
}) {
  const sums = GROUPS.map(([name, kinds, look]) => ({
    name,
    look,
    amount: lines.filter((l) => kinds.includes(l.kind)).reduce((sum, l) => sum + Number(l.amount), 0) / good,
  })).filter((group) => group.amount > 0)
  const whole = sums.reduce((sum, group) => sum + group.amount, 0)
  if (whole === 0) return null
  const layers = sums.reduce<((typeof sums)[number] & { y: number; high: number })[]>((below, group) => {
    const top = below.at(-1)?.y ?? HIGH
    const high = (HIGH * group.amount) / whole
    return [...below, { ...group, y: top - high, high }]
  }, [])
  // Names that would lie on each other are pushed apart, upwards.
  const names = layers.reduce<number[]>(
    (set, layer) => [...set, Math.min(layer.y + layer.high / 2, (set.at(-1) ?? HIGH + 22) - 18)],
    [],
  )
  const lift = Math.max(0, 8 - Math.min(...names))
  return (
    <svg
      role="img"
      aria-label={`A good piece: ${sums.map((g) => `${g.name} ${show(g.amount)}`).join(', ')}`}
      viewBox={`0 ${-lift} ${WIDTH} ${HIGH + lift + 4}`}
      className="w-full max-w-md"
    >
      {layers.map((layer, i) => (
        <g key={layer.name}>
          <rect
            x={0}
            y={layer.y}
            width={120}
            height={Math.max(1, layer.high)}
            className={`${layer.look} stroke-soft`}
          />
          <path
            d={`M120 ${layer.y + layer.high / 2}L134 ${names[i] ?? 0}`}
            className="stroke-line"
            strokeWidth={1}
          />
          <text x={138} y={(names[i] ?? 0) + 4} className="fill-ink text-[13px]">
            {layer.name} <tspan className="font-mono">{show(layer.amount)}</tspan>
          </text>
        </g>
      ))}
    </svg>
  )
}
