import { Clock } from 'lucide-react'
import type { Schema } from '../../api/client'
import { TickField, TypedField } from '../../ui/form'
import { Blocked } from '../../ui/GateCard'
import type { Ticked } from './gate'

/** The conditions before the beam goes on, each to be ticked by whoever looked. */
export function GateList({
  gate,
  ticked,
  set,
}: {
  gate: Schema<'GateItemOut'>[]
  ticked: Ticked
  set: (ticked: Ticked) => void
}) {
  const answer = (code: string, value: string | null) => {
    const others = Object.entries(ticked).filter(([key]) => key !== code)
    set(Object.fromEntries(value === null ? others : [...others, [code, value]]))
  }
  return (
    <ul className="gap-x-8 [columns:2_20rem]">
      {gate.map((item) => (
        <li key={item.code} className="break-inside-avoid border-b border-line py-2">
          <GateRow item={item} value={ticked[item.code]} answer={(value) => answer(item.code, value)} />
        </li>
      ))}
    </ul>
  )
}

function GateRow({
  item,
  value,
  answer,
}: {
  item: Schema<'GateItemOut'>
  value: string | undefined
  answer: (value: string | null) => void
}) {
  const on = value !== undefined
  if (item.blocked)
    return (
      <div className="flex min-h-11 items-center gap-3">
        <Clock aria-hidden className="size-5 shrink-0 text-frost" />
        <p>
          <b>{item.text}</b>: not yet, <Blocked item={item} />
        </p>
      </div>
    )
  const words = (
    <>
      <b>{item.text}</b>
      {item.why && <span className="block text-sm text-soft">{item.why}</span>}
    </>
  )
  if (item.ways.length)
    return (
      <fieldset>
        <legend className="pl-8">{words}</legend>
        {item.ways.map((way) => (
          <label key={way} className="flex min-h-11 items-center gap-3">
            <input
              type="radio"
              name={item.code}
              className="size-5 shrink-0 accent-(--glaze)"
              checked={value === way}
              onChange={() => answer(way)}
            />
            {way}
          </label>
        ))}
      </fieldset>
    )
  return (
    <>
      <TickField
        className="cursor-pointer"
        checked={on}
        onChange={(event) => answer(event.target.checked ? '' : null)}
      >
        {words}
      </TickField>
      {item.asks && on && (
        <div className="pl-8">
          <TypedField
            label={item.asks}
            name={`ticks.${item.code}`}
            value={value}
            set={answer}
            maxLength={200}
          />
        </div>
      )}
    </>
  )
}
