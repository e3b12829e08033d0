import { NavLink } from 'react-router'
import { Heading } from '../../ui/Heading'

const PARTS = [
  ['/logbook', 'Burns'],
  ['/logbook/shelf', 'Settings shelf'],
  ['/logbook/days', 'Day by day'],
] as const

/** The parts of the logbook. */
export function LogbookHead({ part }: { part: string }) {
  return (
    <header className="mb-4 flex flex-wrap items-baseline gap-x-8 gap-y-2">
      <Heading title={`${part} – Logbook`}>Logbook</Heading>
      <nav aria-label="Logbook" className="flex flex-wrap gap-x-6">
        {PARTS.map(([to, label]) => (
          <NavLink
            key={to}
            to={to}
            end
            className={({ isActive }) =>
              `inline-flex min-h-11 items-center border-b-3 ${isActive ? 'border-glaze font-bold' : 'border-transparent text-soft hover:text-ink'}`
            }
          >
            {label}
          </NavLink>
        ))}
      </nav>
    </header>
  )
}
