import { QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { cleanup, render } from '@testing-library/react'
import { BrowserRouter, Route, Routes } from 'react-router'
import { afterEach } from 'vitest'
import { serve } from './server'

afterEach(cleanup)

/** Renders a route's element with queries and addresses, as the app does; the server is `answer`. */
export function renderPage(
  element: React.ReactNode,
  { path = '/', at = '/', answer }: { path?: string; at?: string; answer: (address: string) => unknown },
) {
  serve(answer)
  window.history.replaceState(null, '', at)
  const client = new QueryClient({ defaultOptions: { queries: { retry: false } } })
  const page = render(
    <QueryClientProvider client={client}>
      <BrowserRouter>
        <Routes>
          <Route path={path} element={element} />
        </Routes>
      </BrowserRouter>
    </QueryClientProvider>,
  )
  return { ...page, client }
}
