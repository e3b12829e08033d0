import { useQuery } from '@tanstack/react-query'
import { Link, useSearchParams } from 'react-router'
import { api, body, type Schema } from '../../api/client'
import { keys as names } from '../../api/keys'
import { BurnMarks, OutcomeBar, wordsOf } from '../../drawing/BurnMarks'
import { EdgesPlot, type LaidWindow } from '../../drawing/EdgesPlot'
import { Loading, Problem } from '../../ui/feedback'
import { Card, LinkButton } from '../../ui/parts'
import { dayAndClock, percent } from '../../ui/units'
import { burnAddress } from './burnAddress'
import { LogbookHead } from './LogbookHead'
import { TheSame, WhatDiffered } from './WhatDiffered'

type Compared = Schema<'ComparedOut'>

const titleOf = (burn: Compared['burns'][number]) => `${burn.job_name}, ${burn.label}`

/** Burns side by side: what differed stands first, what came of it beside it. */
export default function SideBySidePage() {
  const [address] = useSearchParams()
  const keys = address.get('burns') ?? ''
  const found = useQuery({
    queryKey: names.sideBySide(keys),
    queryFn: () => body(api.GET('/api/logged-burns/side-by-side', { params: { query: { burns: keys } } })),
  })
  return (
    <>
      <LogbookHead part="Side by side" />
      {found.isPending ? (
        <Loading what="comparison" />
      ) : found.isError ? (
        <>
          <Problem error={found.error} again={() => void found.refetch()} />
          <LinkButton className="mt-3" to="/logbook">
            Choose burns
          </LinkButton>
        </>
      ) : (
        <Compared found={found.data} />
      )}
    </>
  )
}

function Compared({ found }: { found: Compared }) {
  const windows = windowsOf(found)
  return (
    <div className="grid gap-4">
      <Card title="What came of it">
        <div className="grid gap-4 sm:grid-cols-2 lg:grid-cols-[repeat(auto-fit,minmax(13rem,1fr))]">
          {found.burns.map((burn, i) => {
            const best = found.best[i] ?? null
            return (
              <Link
                key={burn.key}
                to={burnAddress(burn)}
                className="grid content-start gap-2 rounded-xl border border-line p-3 hover:border-soft"
              >
                <span>
                  <b>{burn.job_name}</b>, {burn.label}
                  <span className="block font-mono text-sm text-soft">{dayAndClock(burn.at)}</span>
                </span>
                <BurnMarks burn={burn} className="h-16 justify-self-start" />
                <OutcomeBar burn={burn} />
                <span className="text-sm">{wordsOf(burn)}</span>
                {best !== null && (
                  <span className="text-sm text-soft">
                    cleanest of these with a chance of {percent(best)}
                  </span>
                )}
                {burn.defects.length > 0 && (
                  <span className="text-sm text-soft">{burn.defects.map((d) => d.label).join(', ')}</span>
                )}
              </Link>
            )
          })}
        </div>
      </Card>
      <div className="grid items-start gap-4 lg:grid-cols-2">
        <WhatDiffered facts={found.facts} of={found.burns.map((burn) => [burn.key, titleOf(burn)])} />
        {windows.length > 0 && (
          <Card title="Their windows">
            <EdgesPlot windows={windows} />
          </Card>
        )}
      </div>
      <TheSame facts={found.facts} />
    </div>
  )
}

/** One window a job, with all that was burned in it. */
function windowsOf(found: Compared): LaidWindow[] {
  const figures = (name: string) => found.facts.find((fact) => fact.name === name)?.values ?? []
  const [dwells, energies] = [figures('dwell'), figures('energy')]
  const laid = new Map<number, LaidWindow>()
  found.burns.forEach((burn, i) => {
    const [edges, dwell_ms, energy_j_mm2] = [found.windows[i], dwells[i], energies[i]]
    if (!edges) return
    const window = laid.get(burn.job_id) ?? { name: burn.job_name, edges, burned: [] }
    if (typeof dwell_ms === 'number' && typeof energy_j_mm2 === 'number')
      window.burned.push({ dwell_ms, energy_j_mm2 })
    laid.set(burn.job_id, window)
  })
  return [...laid.values()]
}
