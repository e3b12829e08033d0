import { useState } from 'react'
import { TypedField } from './form'

/** A figure to type: what is half typed stays as it is, and only a whole figure is handed on. */
export function FigureField({
  label,
  name,
  value,
  set,
  unit = 'mm',
  placeholder,
}: {
  label: string
  name: string
  value: number | null
  set: (figure: number) => void
  unit?: string
  placeholder?: string
}) {
  const [typed, setTyped] = useState<string | null>(null)
  return (
    <TypedField
      label={label}
      name={name}
      unit={unit}
      inputMode="decimal"
      placeholder={placeholder}
      value={typed ?? (value === null ? '' : String(value))}
      set={(text) => {
        setTyped(text)
        const figure = Number(text.replace(',', '.'))
        if (text.trim() && Number.isFinite(figure)) set(figure)
      }}
      onBlur={() => setTyped(null)}
    />
  )
}
