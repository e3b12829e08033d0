import { useEffect, useRef, useSyncExternalStore } from 'react'

/** The keys of each page, by what they do; the sheet of keys lists them as they stand here. */
export const KEYS = {
  Everywhere: { '?': 'this sheet' },
  Reading: {
    ArrowLeft: 'to the cell on the left',
    ArrowUp: 'to the cell above',
    ArrowRight: 'to the cell on the right',
    ArrowDown: 'to the cell below',
    '1': 'faint',
    '2': 'clean',
    '3': 'harsh',
    '0': 'clear the rating',
    p: 'take the proposal of the photo',
    s: 'heard snapping',
    z: 'take the last rating back',
  },
  Batch: {
    n: 'the large button',
    '1': 'faint',
    '2': 'clean',
    '3': 'harsh',
    '4': 'spoilt',
  },
} as const

export type Place = keyof typeof KEYS
type Acts<P extends Place> = { [K in keyof (typeof KEYS)[P]]?: (event: KeyboardEvent) => void }

const SETTING = 'keencoat-keys'
const listeners = new Set<() => void>()
const areOn = () => localStorage.getItem(SETTING) !== 'off'

/** Whether keys of a single letter, digit or sign act; somebody who speaks or dictates switches them off (WCAG 2.2,
 * 2.1.4). Kept between visits. */
export function useSingleKeys(): [boolean, (on: boolean) => void] {
  const on = useSyncExternalStore((tell) => {
    listeners.add(tell)
    return () => listeners.delete(tell)
  }, areOn)
  return [
    on,
    (wanted) => {
      localStorage.setItem(SETTING, wanted ? 'on' : 'off')
      listeners.forEach((tell) => tell())
    },
  ]
}

/** Keys of a page; silent while somebody types in a field or a dialog is open. */
export function useShortcuts<P extends Place>(_place: P, acts: Acts<P>) {
  const latest = useRef<Acts<P>>(acts)
  useEffect(() => {
    latest.current = acts
  })
  useEffect(() => {
    const listen = (event: KeyboardEvent) => {
      const target = event.target as HTMLElement
      if (event.ctrlKey || event.metaKey || event.altKey) return
      if (target.closest('input, select, textarea, [role=dialog]')) return
      if (event.key.length === 1 && !areOn()) return
      const act = (latest.current as Record<string, ((event: KeyboardEvent) => void) | undefined>)[event.key]
      if (act) {
        event.preventDefault()
        act(event)
      }
    }
    window.addEventListener('keydown', listen)
    return () => window.removeEventListener('keydown', listen)
  }, [])
}
