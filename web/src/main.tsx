import { QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { StrictMode } from 'react'
import { createRoot } from 'react-dom/client'
import { againAfter, whileAway, whileAwayOrOnce } from './api/away'
import { App } from './app'
import './styles.css'
import { AwayNotice } from './ui/AwayNotice'
import { startTheme } from './ui/theme'

startTheme()
// A database that restarts is back in seconds: what was asked is asked again, and what was typed stays.
const client = new QueryClient({
  defaultOptions: {
    queries: {
      retry: whileAwayOrOnce,
      retryDelay: againAfter,
      staleTime: 2_000,
    },
    mutations: { retry: whileAway, retryDelay: againAfter },
  },
})

const root = document.getElementById('root')
if (!root) throw new Error('The page has no root element.')
createRoot(root).render(
  <StrictMode>
    <QueryClientProvider client={client}>
      <App />
      <AwayNotice />
    </QueryClientProvider>
  </StrictMode>,
)
