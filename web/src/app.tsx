import { lazy, Suspense } from 'react'
import { Navigate, Route, Routes } from 'react-router'
import { useSession } from './api/hooks'
import { BenchPage } from './pages/bench/BenchPage'
import { SignIn } from './pages/session/SignIn'
import { Loading, Problem } from './ui/feedback'
import { Shell } from './ui/Shell'

const JobsPage = lazy(() => import('./pages/jobs/JobsPage'))
const NewJobPage = lazy(() => import('./pages/jobs/NewJobPage'))
const JobPage = lazy(() => import('./pages/jobs/JobPage'))
const ComparePage = lazy(() => import('./pages/compare/ComparePage'))
const PracticePage = lazy(() => import('./pages/practice/PracticePage'))
const LogbookPage = lazy(() => import('./pages/logbook/LogbookPage'))
const ShelfPage = lazy(() => import('./pages/logbook/ShelfPage'))
const PiecesPage = lazy(() => import('./pages/logbook/PiecesPage'))
const SideBySidePage = lazy(() => import('./pages/logbook/SideBySidePage'))
const DaysPage = lazy(() => import('./pages/logbook/DaysPage'))
const SpotPage = lazy(() => import('./pages/shop/SpotPage'))
const TurningPage = lazy(() => import('./pages/shop/TurningPage'))
const ShopPage = lazy(() => import('./pages/shop/ShopPage'))

export function App() {
  const session = useSession()
  if (session.isPending) return <Loading what="Keen Coat" />
  if (session.isError) return <Problem error={session.error} />
  if (!session.data.signed_in) return <SignIn demo={session.data.demo ?? null} />
  return (
    <Shell session={session.data}>
      <Suspense fallback={<Loading what="page" />}>
        <Routes>
          <Route path="/" element={<BenchPage />} />
          <Route path="/jobs" element={<JobsPage />} />
          <Route path="/jobs/new" element={<NewJobPage />} />
          <Route path="/jobs/:id/:chapter?/:part?" element={<JobPage />} />
          <Route path="/compare/:id?" element={<ComparePage />} />
          <Route path="/practice" element={<PracticePage />} />
          <Route path="/logbook" element={<LogbookPage />} />
          <Route path="/logbook/shelf" element={<ShelfPage />} />
          <Route path="/logbook/side-by-side" element={<SideBySidePage />} />
          <Route path="/logbook/pieces" element={<PiecesPage />} />
          <Route path="/logbook/days" element={<DaysPage />} />
          <Route path="/shop/machines/:id/spot" element={<SpotPage />} />
          <Route path="/shop/machines/:id/turning" element={<TurningPage />} />
          <Route path="/shop" element={<ShopPage />} />
          <Route path="*" element={<Navigate to="/" replace />} />
        </Routes>
      </Suspense>
    </Shell>
  )
}
