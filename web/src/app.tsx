import { lazy, Suspense } from 'react'
import { createBrowserRouter, Navigate, Outlet, RouterProvider, type RouteObject } from 'react-router'
import { useSession } from './api/hooks'
import { BenchPage } from './pages/bench/BenchPage'
import { SignIn } from './pages/session/SignIn'
import { Loading, Problem } from './ui/feedback'
import { PageError } from './ui/PageError'
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

/** Who is signed in sees the places and the page; who is not signs in. */
function Frame() {
  const session = useSession()
  if (session.isPending) return <Loading what="Keen Coat" />
  if (session.isError) return <Problem error={session.error} again={() => void session.refetch()} />
  if (!session.data.signed_in) return <SignIn demo={session.data.demo ?? null} />
  return (
    <Shell session={session.data}>
      <Suspense fallback={<Loading what="page" />}>
        <Outlet />
      </Suspense>
    </Shell>
  )
}

// An error of one page leaves the frame around it, with the way to all others.
const PAGES: RouteObject[] = [
  { index: true, element: <BenchPage /> },
  { path: 'jobs', element: <JobsPage /> },
  { path: 'jobs/new', element: <NewJobPage /> },
  { path: 'jobs/:id/:chapter?/:part?', element: <JobPage /> },
  { path: 'compare/:id?', element: <ComparePage /> },
  { path: 'practice', element: <PracticePage /> },
  { path: 'logbook', element: <LogbookPage /> },
  { path: 'logbook/shelf', element: <ShelfPage /> },
  { path: 'logbook/side-by-side', element: <SideBySidePage /> },
  { path: 'logbook/pieces', element: <PiecesPage /> },
  { path: 'logbook/days', element: <DaysPage /> },
  { path: 'shop/machines/:id/spot', element: <SpotPage /> },
  { path: 'shop/machines/:id/turning', element: <TurningPage /> },
  { path: 'shop', element: <ShopPage /> },
  { path: '*', element: <Navigate to="/" replace /> },
]

const router = createBrowserRouter([
  {
    path: '/',
    element: <Frame />,
    errorElement: <PageError />,
    children: [{ errorElement: <PageError />, children: PAGES }],
  },
])

/** The app, at the address of this window. */
export const App = () => <RouterProvider router={router} />
