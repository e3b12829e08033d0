import { useEffect, useRef, type ReactNode } from 'react'
import { useLocation } from 'react-router'

const MARK = '● '
let heard: string | null = null

/** The heading of a page, and what its tab is called: “Grid – Cloche labels – Keen Coat”. After a step to another page
 * it has the focus, so that it is read out and keys go on from there. */
export function Heading({
  title,
  children,
  className = '',
}: {
  title: string
  children: ReactNode
  className?: string
}) {
  const { pathname } = useLocation()
  const heading = useRef<HTMLHeadingElement>(null)
  useEffect(() => {
    // The alarm's mark stays where it is.
    document.title = `${document.title.startsWith(MARK) ? MARK : ''}${title} – Keen Coat`
  }, [title])
  useEffect(() => {
    const typing = document.activeElement?.matches('input, select, textarea')
    if (heard !== null && heard !== pathname && !typing) heading.current?.focus({ preventScroll: true })
    heard = pathname
  }, [pathname])
  return (
    <h1 ref={heading} tabIndex={-1} className={`text-2xl font-bold outline-none ${className}`}>
      {children}
    </h1>
  )
}
