import type { Schema } from '../../api/client'
import { SelectField, TickField } from '../../ui/form'
import { Card } from '../../ui/parts'
import type { Edit } from './useArtworkEdit'

/** How a list of names is set, and which of them is seen. */
export function WordsCard({
  edit,
  names,
  piece,
  see,
}: {
  edit: Edit
  names: Schema<'SetNameOut'>[]
  piece: number
  see: (piece: number) => void
}) {
  return (
    <Card title="Names">
      <div className="grid gap-2">
        <SelectField
          label="Typeface"
          name="typeface"
          value={edit.spec.typeface}
          onChange={(e) => edit.change({ typeface: e.target.value as Schema<'Typeface'> })}
        >
          <option value="bold">bold</option>
          <option value="text">plain</option>
          <option value="mono">even widths</option>
        </SelectField>
        <TickField checked={edit.spec.one_size} onChange={(e) => edit.change({ one_size: e.target.checked })}>
          One size for all
        </TickField>
      </div>
      <ol className="mt-2 max-h-72 overflow-y-auto rounded-lg border border-line" aria-label="Pieces">
        {names.map((name, n) => (
          <li key={name.row}>
            <button
              aria-current={n === piece}
              onClick={() => see(n)}
              className={`flex min-h-11 w-full items-baseline justify-between gap-2 px-3 py-1.5 text-left ${n === piece ? 'bg-frost-tint font-bold' : 'hover:bg-frost-tint'}`}
            >
              <span className="min-w-0 wrap-break-word">
                {n + 1}. {name.first}
                {name.second && <span className="block text-sm font-normal text-soft">{name.second}</span>}
              </span>
              <span className="shrink-0 text-sm font-normal text-soft">
                {name.why ? 'left out' : `${name.capital_mm.toFixed(1)} mm`}
              </span>
            </button>
          </li>
        ))}
      </ol>
    </Card>
  )
}
