import { BookOpen, FlaskConical, Hammer, Layers, Moon, NotebookText, Sun, Keyboard } from 'lucide-react'
import { useState, type ReactNode } from 'react'
import { NavLink } from 'react-router'
import type { Schema } from '../api/client'
import { BuildNotice } from './BuildNotice'
import { HelpSheet } from './HelpSheet'
import { Mark } from './Mark'
import { useShortcuts } from './shortcuts'
import { useTheme } from './theme'

const PLACES = [
  { to: '/', label: 'Bench', Icon: Hammer },
  { to: '/jobs', label: 'Jobs', Icon: Layers },
  { to: '/practice', label: 'Practice', Icon: FlaskConical },
  { to: '/logbook', label: 'Logbook', Icon: NotebookText },
  { to: '/shop', label: 'Shop', Icon: BookOpen },
]

export function Shell({ session, children }: { session: Schema<'Session'>; children: ReactNode }) {
  const [theme, flipTheme] = useTheme()
  const [help, setHelp] = useState(false)
  useShortcuts('Everywhere', { '?': () => setHelp(true) })
  return (
    <div className="min-h-dvh md:grid md:grid-cols-[5.5rem_minmax(0,1fr)]">
      <a href="#page" className="sr-only focus:not-sr-only focus:absolute focus:p-3">
        Skip to the page
      </a>
      <nav
        aria-label="Places"
        className="no-print fixed inset-x-0 bottom-0 z-10 flex justify-around border-t border-line bg-paper md:sticky md:top-0 md:h-dvh md:flex-col md:justify-start md:gap-1 md:border-t-0 md:border-r md:px-2 md:py-4"
      >
        <div className="mb-3 hidden justify-center md:flex">
          <Mark />
        </div>
        {PLACES.map(({ to, label, Icon }) => (
          <NavLink
            key={to}
            to={to}
            end={to === '/'}
            className={({ isActive }) =>
              `flex min-h-12 min-w-14 flex-col items-center justify-center rounded-xl px-1 py-1.5 text-sm ${
                isActive ? 'bg-card font-bold text-ink shadow-[inset_0_-3px_0_var(--glaze)]' : 'text-soft'
              }`
            }
          >
            <Icon aria-hidden className="size-5" />
            {label}
          </NavLink>
        ))}
        <div className="hidden grow md:block" />
        <button
          className="hidden min-h-11 flex-col items-center justify-center rounded-xl text-xs text-soft md:flex"
          onClick={() => setHelp(true)}
        >
          <Keyboard aria-hidden className="size-5" />
          Keys
        </button>
        <button
          className="flex min-h-12 min-w-13 flex-col items-center justify-center rounded-xl text-sm text-soft md:text-xs"
          onClick={flipTheme}
          aria-label={`Change to the ${theme === 'light' ? 'dark' : 'light'} theme`}
        >
          {theme === 'light' ? (
            <Moon aria-hidden className="size-5" />
          ) : (
            <Sun aria-hidden className="size-5" />
          )}
          {theme === 'light' ? 'Dark' : 'Light'}
        </button>
      </nav>
      <main id="page" className="mx-auto w-full max-w-[100rem] px-4 pt-5 pb-24 md:px-6 md:pb-8">
        <BuildNotice />
        {children}
      </main>
      <HelpSheet open={help} close={() => setHelp(false)} workshop={session.workshop} />
    </div>
  )
}
