import { QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { StrictMode } from 'react'
import { createRoot } from 'react-dom/client'
import { BrowserRouter } from 'react-router'
import { ProblemError } from './api/client'
import { App } from './app'
import './styles.css'
import { startTheme } from './ui/theme'

startTheme()
// A database that restarts is back in seconds: what was asked is asked again, and what was typed stays.
const isAway = (error: Error) => error instanceof ProblemError && error.status === 503
const client = new QueryClient({
  defaultOptions: {
    queries: {
      retry: (tried, error) => tried < (isAway(error) ? 6 : 1),
      retryDelay: 2_000,
      staleTime: 2_000,
    },
    mutations: { retry: (tried, error) => tried < 6 && isAway(error), retryDelay: 2_000 },
  },
})

const root = document.getElementById('root')
if (!root) throw new Error('The page has no root element.')
createRoot(root).render(
  <StrictMode>
    <QueryClientProvider client={client}>
      <BrowserRouter>
        <App />
      </BrowserRouter>
    </QueryClientProvider>
  </StrictMode>,
)
