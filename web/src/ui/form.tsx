import {
  createContext,
  useContext,
  useId,
  type InputHTMLAttributes,
  type ReactNode,
  type SelectHTMLAttributes,
} from 'react'
import { ProblemError } from '../api/client'

/** The refusal that a form got last; the field that it names shows it. */
const Refusal = createContext<ProblemError | null>(null)

export function RefusalScope({ error, children }: { error: unknown; children: ReactNode }) {
  return <Refusal value={error instanceof ProblemError ? error : null}>{children}</Refusal>
}

const BOX = 'min-h-11 w-full rounded-lg border bg-card px-3 py-2 text-ink'

function Frame({
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
  children: (id: string, describedBy: string | undefined, look: string) => ReactNode
}) {
  const id = useId()
  const refusal = useContext(Refusal)
  const mine = refusal?.field === name ? refusal : null
  const describedBy = mine || help ? `${id}-help` : undefined
  return (
    <div>
      <label htmlFor={id} className="mb-1 flex justify-between text-sm font-bold">
        {label}
        {unit && <span className="font-normal text-soft">{unit}</span>}
      </label>
      {children(id, describedBy, `${BOX} ${mine ? 'border-ember' : 'border-line'}`)}
      {describedBy && (
        <p
          id={describedBy}
          role={mine ? 'alert' : undefined}
          className={`mt-1 text-sm ${mine ? 'text-ember' : 'text-soft'}`}
        >
          {mine ? `${mine.message} ${mine.hint}` : help}
        </p>
      )}
    </div>
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
    <Frame label={label} name={name} unit={unit} help={help}>
      {(id, describedBy, look) => (
        <input
          id={id}
          name={name}
          aria-describedby={describedBy}
          className={look}
          autoComplete="off"
          {...rest}
        />
      )}
    </Frame>
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

export function SelectField({
  label,
  name,
  unit,
  help,
  children,
  ...rest
}: Common & SelectHTMLAttributes<HTMLSelectElement>) {
  return (
    <Frame label={label} name={name} unit={unit} help={help}>
      {(id, describedBy, look) => (
        <select id={id} name={name} aria-describedby={describedBy} className={look} {...rest}>
          {children}
        </select>
      )}
    </Frame>
  )
}
