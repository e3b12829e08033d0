import { useEffect, useRef, useState } from 'react'

/** The width of an element in CSS pixels, so that drawings keep readable type at any size. */
export function useWidth(start: number) {
  const ref = useRef<HTMLDivElement>(null)
  const [width, setWidth] = useState(start)
  useEffect(() => {
    const element = ref.current
    if (!element) return
    const observer = new ResizeObserver(([entry]) => entry && setWidth(Math.round(entry.contentRect.width)))
    observer.observe(element)
    return () => observer.disconnect()
  }, [])
  return { ref, width }
}
