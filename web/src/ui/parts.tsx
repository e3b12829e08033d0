import type { ButtonHTMLAttributes, ReactNode } from 'react'
import { Link, type LinkProps } from 'react-router'

const BUTTON =
  'inline-flex min-h-11 items-center justify-center gap-2 rounded-xl px-4 py-2 text-center font-bold disabled:opacity-50'
const LOOKS = {
  main: 'bg-glaze text-on-glaze hover:brightness-110',
  plain: 'border border-line bg-card hover:border-soft',
  quiet: 'px-2 font-normal underline underline-offset-4 decoration-line hover:decoration-ink',
}
type Look = keyof typeof LOOKS

export function Button({
  look = 'plain',
  className = '',
  ...rest
}: ButtonHTMLAttributes<HTMLButtonElement> & { look?: Look }) {
  return <button type="button" className={`${BUTTON} ${LOOKS[look]} ${className}`} {...rest} />
}

export function LinkButton({ look = 'plain', className = '', ...rest }: LinkProps & { look?: Look }) {
  return <Link className={`${BUTTON} ${LOOKS[look]} ${className}`} {...rest} />
}

export function FileLink({ href, children }: { href: string; children: ReactNode }) {
  return (
    <a className={`${BUTTON} ${LOOKS.plain}`} href={href} download>
      {children}
    </a>
  )
}

export function Card({
  title,
  aside,
  children,
  className = '',
  accent = false,
}: {
  title?: string
  aside?: ReactNode
  children: ReactNode
  className?: string
  accent?: boolean
}) {
  return (
    <section
      aria-label={title}
      className={`min-w-0 rounded-2xl border bg-card p-4 ${accent ? 'border-2 border-glaze' : 'border-line'} ${className}`}
    >
      {(title || aside) && (
        <header className="mb-3 flex flex-wrap items-baseline justify-between gap-x-4 gap-y-1">
          {title && <h2 className="text-sm font-bold text-soft">{title}</h2>}
          {aside}
        </header>
      )}
      {children}
    </section>
  )
}

/** Something that is so or not, pressed to change it. */
export function Chip({ on, toggle, children }: { on: boolean; toggle: () => void; children: ReactNode }) {
  return (
    <button
      type="button"
      onClick={toggle}
      aria-pressed={on}
      className={`min-h-11 rounded-full border px-3 ${on ? 'border-ink bg-ink text-paper' : 'border-line hover:border-soft'}`}
    >
      {children}
    </button>
  )
}

/** How much of a burn is done, 0 to 1. */
export function Progress({ share }: { share: number }) {
  return (
    <div
      role="progressbar"
      aria-label="Burned so far"
      aria-valuenow={Math.round(100 * share)}
      aria-valuemin={0}
      aria-valuemax={100}
      className="mt-3 h-3 overflow-hidden rounded-full bg-line"
    >
      <div className="h-full bg-glaze transition-[width] duration-300" style={{ width: `${100 * share}%` }} />
    </div>
  )
}

/** Figures with their names, one a line. */
export function Figures({ rows }: { rows: [string, ReactNode][] }) {
  return (
    <dl>
      {rows.map(([name, value]) => (
        <div
          key={name}
          className="flex items-baseline justify-between gap-4 border-b border-line py-1.5 last:border-0"
        >
          <dt className="text-soft">{name}</dt>
          <dd className="text-right font-mono">{value}</dd>
        </div>
      ))}
    </dl>
  )
}

/** A chapter as a workshop card: do, see, why. On a phone one below the other. */
export function Chapter({ doing, seeing, why }: { doing: ReactNode; seeing: ReactNode; why: ReactNode }) {
  return (
    <div className="grid items-start gap-4 md:grid-cols-[19rem_minmax(0,1fr)] xl:grid-cols-[19rem_minmax(0,1fr)_16rem]">
      <div className="grid min-w-0 gap-4">{doing}</div>
      <div className="grid min-w-0 gap-4 md:row-span-2 xl:row-span-1">{seeing}</div>
      <div className="grid min-w-0 gap-4">{why}</div>
    </div>
  )
}

/** Asked in place before what cannot be undone is done. */
export function AskedFirst({
  act,
  busy,
  onAct,
  onKeep,
  children,
  className = '',
}: {
  act: string
  busy: boolean
  onAct: () => void
  onKeep: () => void
  children: ReactNode
  className?: string
}) {
  return (
    <div role="alert" className={`flex flex-wrap items-center gap-3 ${className}`}>
      <span>{children}</span>
      <Button disabled={busy} onClick={onAct}>
        {act}
      </Button>
      <Button look="quiet" onClick={onKeep}>
        Keep it
      </Button>
    </div>
  )
}
