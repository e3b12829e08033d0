import { Description, Field, Input, Label, Select, Textarea } from '@headlessui/react'
import {
  createContext,
  useContext,
  type InputHTMLAttributes,
  type ReactNode,
  type SelectHTMLAttributes,
  type TextareaHTMLAttributes,
} from 'react'
import { ProblemError } from '../api/client'

/** The refusal that a form got last; the field that it names shows it. */
const Refusal = createContext<ProblemError | null>(null)

export function RefusalScope({ error, children }: { error: unknown; children: ReactNode }) {
  return <Refusal value={error instanceof ProblemError ? error : null}>{children}</Refusal>
}

const BOX = 'min-h-11 w-full rounded-lg border bg-card px-3 py-2 text-ink'

function Labelled({
  label,
  name,
  unit,
  help,
  children,
}: {
  label: string
  name: string
  unit?: string
  help?: ReactNode
  children: (look: string, invalid: boolean) => ReactNode
}) {
  const refusal = useContext(Refusal)
  const mine = refusal?.field === name ? refusal : null
  return (
    <Field>
      <Label className="mb-1 flex justify-between text-sm font-bold">
        {label}
        {unit && <span className="font-normal text-soft">{unit}</span>}
      </Label>
      {children(`${BOX} ${mine ? 'border-ember' : 'border-line'}`, !!mine)}
      {(mine || help) && (
        <Description
          as="p"
          role={mine ? 'alert' : undefined}
          className={`mt-1 text-sm ${mine ? 'text-ember' : 'text-soft'}`}
        >
          {mine ? `${mine.message} ${mine.hint}` : help}
        </Description>
      )}
    </Field>
  )
}

type Common = { label: string; name: string; unit?: string; help?: ReactNode }

export function TextField({
  label,
  name,
  unit,
  help,
  ...rest
}: Common & InputHTMLAttributes<HTMLInputElement>) {
  return (
    <Labelled label={label} name={name} unit={unit} help={help}>
      {(look, invalid) => (
        <Input name={name} invalid={invalid} className={look} autoComplete="off" {...rest} />
      )}
    </Labelled>
  )
}

/** A text field whose text somebody else keeps. */
export function TypedField({
  set,
  ...rest
}: Common &
  Omit<InputHTMLAttributes<HTMLInputElement>, 'onChange' | 'name'> & { set: (text: string) => void }) {
  return <TextField onChange={(event) => set(event.target.value)} {...rest} />
}

/** Several lines of text, kept by somebody else. */
export function LinesField({
  label,
  name,
  unit,
  help,
  set,
  ...rest
}: Common &
  Omit<TextareaHTMLAttributes<HTMLTextAreaElement>, 'onChange' | 'name'> & { set: (text: string) => void }) {
  return (
    <Labelled label={label} name={name} unit={unit} help={help}>
      {(look, invalid) => (
        <Textarea
          name={name}
          invalid={invalid}
          className={look}
          onChange={(event) => set(event.target.value)}
          {...rest}
        />
      )}
    </Labelled>
  )
}

export function SelectField({
  label,
  name,
  unit,
  help,
  children,
  ...rest
}: Common & SelectHTMLAttributes<HTMLSelectElement>) {
  return (
    <Labelled label={label} name={name} unit={unit} help={help}>
      {(look, invalid) => (
        <Select name={name} invalid={invalid} className={look} {...rest}>
          {children}
        </Select>
      )}
    </Labelled>
  )
}

/** A figure that is slid to its place, with its value beside its name. */
export function RangeField({
  label,
  value,
  set,
  show,
  ...rest
}: {
  label: string
  value: number
  set: (value: number) => void
  show: (value: number) => string
} & Omit<InputHTMLAttributes<HTMLInputElement>, 'onChange' | 'value' | 'type'>) {
  return (
    <label className="block">
      <span className="flex justify-between text-sm font-bold">
        {label}
        <span className="font-mono font-normal text-soft">{show(value)}</span>
      </span>
      <input
        type="range"
        className="h-11 w-full accent-(--glaze)"
        value={value}
        onChange={(event) => set(Number(event.target.value))}
        {...rest}
      />
    </label>
  )
}

/** A box to tick, with its words beside it. */
export function TickField({
  children,
  className = '',
  ...rest
}: { children: ReactNode } & InputHTMLAttributes<HTMLInputElement>) {
  return (
    <label className={`flex min-h-11 items-center gap-3 ${className}`}>
      <input type="checkbox" className="size-5 shrink-0 accent-(--glaze)" {...rest} />
      <span>{children}</span>
    </label>
  )
}
