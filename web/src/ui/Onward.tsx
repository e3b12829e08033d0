import { useEffect } from 'react'
import { useLocation, useNavigate } from 'react-router'

/**
 * Goes on to a page in place of this one, unless whoever reads has gone elsewhere already: a page that is left stays
 * drawn until the next one has come, and must not call them back.
 */
export function Onward({ to }: { to: string }) {
  const navigate = useNavigate()
  const { pathname } = useLocation()
  useEffect(() => {
    if (window.location.pathname === pathname) void navigate(to, { replace: true })
  }, [navigate, pathname, to])
  return null
}
