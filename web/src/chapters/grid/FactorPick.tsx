import { useCatalogue } from '../../api/hooks'

/** Two or three of the things that a grid may vary. */
export function FactorPick({ chosen, choose }: { chosen: string[]; choose: (factors: string[]) => void }) {
  const factors = useCatalogue().data?.grid_factors ?? []
  return (
    <fieldset>
      <legend className="mb-1 text-sm font-bold">Two or three of</legend>
      <div className="flex flex-wrap gap-2">
        {factors.map(({ key, label }) => {
          const on = chosen.includes(key)
          return (
            <button
              key={key}
              type="button"
              aria-pressed={on}
              disabled={!on && chosen.length >= 3}
              onClick={() => choose(on ? chosen.filter((f) => f !== key) : [...chosen, key])}
              className={`min-h-11 rounded-full border px-3 disabled:opacity-50 ${
                on ? 'border-ink bg-ink text-paper' : 'border-line hover:border-soft'
              }`}
            >
              {label}
            </button>
          )
        })}
      </div>
      {chosen.length < 2 && (
        <p role="status" className="mt-1 text-sm text-ember">
          Choose {chosen.length ? 'one more' : 'two'}.
        </p>
      )}
    </fieldset>
  )
}
