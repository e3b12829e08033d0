import { useEffect, useRef } from 'react'

/** Keys of the page; silent while somebody types in a field or a dialog is open. */
export function useShortcuts(keys: Record<string, (event: KeyboardEvent) => void>) {
  const latest = useRef(keys)
  useEffect(() => {
    latest.current = keys
  })
  useEffect(() => {
    const listen = (event: KeyboardEvent) => {
      const target = event.target as HTMLElement
      if (event.ctrlKey || event.metaKey || event.altKey) return
      if (target.closest('input, select, textarea, [role=dialog]')) return
      const act = latest.current[event.key]
      if (act) {
        event.preventDefault()
        act(event)
      }
    }
    window.addEventListener('keydown', listen)
    return () => window.removeEventListener('keydown', listen)
  }, [])
}
