import { useEffect, useState } from 'react'

/** The server's clock, ticking: `server` is its time when the data came. Counts down right with a wrong own clock. */
export function useServerNow(server: string | undefined): number {
  const [now, setNow] = useState(() => (server ? Date.parse(server) : Date.now()))
  useEffect(() => {
    const arrived = Date.now()
    const base = server ? Date.parse(server) : arrived
    const show = () => setNow(base + Date.now() - arrived)
    const first = setTimeout(show)
    const timer = setInterval(show, 1000)
    return () => {
      clearTimeout(first)
      clearInterval(timer)
    }
  }, [server])
  return now
}

export function countdown(untilIso: string, now: number): string {
  const seconds = Math.max(0, Math.round((Date.parse(untilIso) - now) / 1000))
  const hours = Math.floor(seconds / 3600)
  const minutes = Math.floor((seconds % 3600) / 60)
  const rest = String(seconds % 60).padStart(2, '0')
  return hours ? `${hours} h ${String(minutes).padStart(2, '0')} min` : `${minutes}:${rest}`
}
