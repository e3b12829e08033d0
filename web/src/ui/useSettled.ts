import { useEffect, useRef, useState } from 'react'

/** The value once nobody has changed it for so long: what is typed is asked for once, not at every key. */
export function useSettled<T>(value: T, after_ms = 250): T {
  const [settled, setSettled] = useState(value)
  const latest = useRef(value)
  const words = JSON.stringify(value)
  useEffect(() => {
    latest.current = value
  })
  useEffect(() => {
    const timer = setTimeout(() => setSettled(latest.current), after_ms)
    return () => clearTimeout(timer)
  }, [words, after_ms])
  return settled
}
