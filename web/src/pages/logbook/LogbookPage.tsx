import { useState } from 'react'
import { Empty, Loading, Problem } from '../../ui/feedback'
import { SelectField, TickField } from '../../ui/form'
import { Button, Card, Chip, LinkButton } from '../../ui/parts'
import { BurnFilters } from './BurnFilters'
import { BurnRow } from './BurnRow'
import { LastedCard } from './LastedCard'
import { LogbookHead } from './LogbookHead'
import { useBurns, useWanted } from './useBurns'

const ORDERS: [string, string][] = [
  ['newest', 'newest first'],
  ['oldest', 'oldest first'],
  ['cleanest', 'cleanest first'],
  ['worst', 'worst first'],
  ['largest', 'most cells or pieces first'],
]

/** Every burn of the workshop, found by what it was and by what came of it. */
export default function LogbookPage() {
  const { wanted, narrowed, choose, clear } = useWanted()
  const [cleared, setCleared] = useState(0)
  const [chosen, setChosen] = useState<string[]>([])
  const found = useBurns(wanted)
  const everything = () => {
    clear()
    setCleared(cleared + 1)
  }
  return (
    <>
      <LogbookHead part="Burns" />
      <BurnFilters key={cleared} wanted={wanted} choose={choose} />
      {found.isPending ? (
        <Loading what="logbook" />
      ) : found.isError ? (
        <>
          <Problem error={found.error} again={() => void found.refetch()} />
          <Button onClick={everything}>Show everything</Button>
        </>
      ) : found.data.total === 0 ? (
        <Empty title={narrowed ? 'No burn fits all of this' : 'Nothing is burned yet'}>
          {narrowed ? (
            <Button onClick={everything}>Show everything</Button>
          ) : (
            'Every grid, batch and run is written here by itself, with what came of it.'
          )}
        </Empty>
      ) : (
        <div className="grid items-start gap-4 xl:grid-cols-[minmax(0,1fr)_17rem]">
          <div className="min-w-0">
            <div className="mb-2 flex flex-wrap items-end justify-between gap-3">
              <p role="status" className="text-soft">
                {found.data.total} {found.data.total === 1 ? 'burn' : 'burns'}
                {narrowed && (
                  <Button look="quiet" onClick={everything}>
                    Show everything
                  </Button>
                )}
              </p>
              <SelectField
                label="Order"
                name="order"
                value={wanted.order || 'newest'}
                onChange={(e) => choose({ order: e.target.value === 'newest' ? '' : e.target.value })}
              >
                {ORDERS.map(([key, words]) => (
                  <option key={key} value={key}>
                    {words}
                  </option>
                ))}
              </SelectField>
            </div>
            <ul className="rounded-2xl border border-line bg-card">
              {found.data.burns.map((burn) => (
                <li
                  key={burn.key}
                  className="grid grid-cols-[2.75rem_minmax(0,1fr)] items-stretch border-b border-line last:border-0"
                >
                  <TickField
                    className="justify-center"
                    aria-label={`Compare ${burn.job_name}, ${burn.label}`}
                    checked={chosen.includes(burn.key)}
                    onChange={(e) =>
                      setChosen((now) =>
                        e.target.checked ? [...now, burn.key] : now.filter((key) => key !== burn.key),
                      )
                    }
                  >
                    {null}
                  </TickField>
                  <BurnRow burn={burn} />
                </li>
              ))}
            </ul>
            {chosen.length > 0 && (
              <div className="sticky bottom-20 mt-3 flex flex-wrap items-center gap-3 rounded-2xl border-2 border-glaze bg-card p-3 md:bottom-4">
                {chosen.length < 2 ? (
                  <span>Tick another one to compare them.</span>
                ) : chosen.length > 5 ? (
                  <span>Five can be compared at most.</span>
                ) : (
                  <LinkButton look="main" to={`/logbook/side-by-side?burns=${chosen.join(',')}`}>
                    Lay {chosen.length} side by side
                  </LinkButton>
                )}
                <Button look="quiet" onClick={() => setChosen([])}>
                  Let go
                </Button>
              </div>
            )}
            <Pages page={found.data.page} pages={found.data.pages} choose={choose} />
          </div>
          <div className="grid min-w-0 gap-4">
            <Card title="What went wrong here">
              {found.data.went_wrong.length === 0 ? (
                <p className="text-soft">No fault is written down for these burns.</p>
              ) : (
                <>
                  <div className="flex flex-wrap gap-2">
                    {found.data.went_wrong.map((fault) => (
                      <Chip
                        key={fault.key}
                        on={wanted.defect === fault.key}
                        toggle={() => choose({ defect: wanted.defect === fault.key ? '' : fault.key })}
                      >
                        {fault.label} <span className="font-mono">{fault.times}</span>
                      </Chip>
                    ))}
                  </div>
                  <p className="mt-2 text-sm text-soft">
                    Cells and pieces that showed it. Press one to see its burns.
                  </p>
                </>
              )}
            </Card>
            <LastedCard />
          </div>
        </div>
      )}
    </>
  )
}

function Pages({
  page,
  pages,
  choose,
}: {
  page: number
  pages: number
  choose: ReturnType<typeof useWanted>['choose']
}) {
  if (pages === 1) return null
  const go = (to: number) => choose({ page: to === 1 ? '' : String(to) })
  return (
    <nav aria-label="Pages" className="mt-3 flex items-center justify-between gap-3">
      <Button disabled={page === 1} onClick={() => go(page - 1)}>
        Rows before
      </Button>
      <span className="text-soft">
        page {page} of {pages}
      </span>
      <Button disabled={page === pages} onClick={() => go(page + 1)}>
        Rows after
      </Button>
    </nav>
  )
}
