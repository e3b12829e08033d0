import { useQuery } from '@tanstack/react-query'
import { useDeferredValue, useState } from 'react'
import { Link } from 'react-router'
import { keys } from '../../api/keys'
import { api, body } from '../../api/client'
import { Empty, Loading, Problem } from '../../ui/feedback'
import { TextField } from '../../ui/form'
import { Button } from '../../ui/parts'
import { ChoiceField, useChoices } from './ChoiceField'
import { LogbookHead } from './LogbookHead'
import { useChosen } from './useChosen'
import { dayAndClock, showEnergy } from '../../ui/units'

const NAMES = ['words', 'substrate', 'coat', 'machine'] as const

export default function DaysPage() {
  const { wanted: chosen, choose, pick, clear } = useChosen(NAMES)
  const [words, setWords] = useState(chosen.words)
  const wanted = { ...chosen, words: useDeferredValue(words) }
  const found = useQuery({
    queryKey: keys.logbook(wanted),
    queryFn: () => body(api.GET('/api/logbook', { params: { query: wanted } })),
    placeholderData: (last) => last,
  })
  const { substrates, coats, machines } = useChoices()
  const searching = Object.values(wanted).some(Boolean)
  return (
    <>
      <LogbookHead part="Day by day" />
      <div className="mb-4 grid gap-3 sm:grid-cols-2 lg:grid-cols-4" role="search">
        <TextField
          label="Words"
          name="words"
          type="search"
          placeholder="cloche frost"
          value={words}
          onChange={(e) => {
            setWords(e.target.value)
            choose({ words: e.target.value })
          }}
        />
        <ChoiceField {...pick('substrate')} label="Substrate" from={substrates} />
        <ChoiceField {...pick('coat')} label="Coat" from={coats} />
        <ChoiceField {...pick('machine')} label="Machine" from={machines.map((m) => [m.name, m.name])} />
      </div>
      {found.isPending ? (
        <Loading what="logbook" />
      ) : found.isError ? (
        <Problem error={found.error} again={() => void found.refetch()} />
      ) : found.data.entries.length === 0 ? (
        <Empty title={searching ? 'Nothing found' : 'The logbook is empty'}>
          {searching ? (
            <Button
              onClick={() => {
                setWords('')
                clear()
              }}
            >
              Show everything
            </Button>
          ) : (
            'Coats, grids, ratings and locked settings are written here by themselves.'
          )}
        </Empty>
      ) : (
        <>
          <p className="mb-2 text-soft" role="status">
            {found.data.total} {found.data.total === 1 ? 'entry' : 'entries'}
            {found.data.total > found.data.entries.length &&
              `, the newest ${found.data.entries.length} shown`}
          </p>
          <ul className="rounded-2xl border border-line bg-card">
            {found.data.entries.map((entry) => (
              <li key={entry.id} className="border-b border-line last:border-0">
                <Link
                  to={`/jobs/${entry.job_id}${entry.kind === 'lock' ? '/run' : ''}`}
                  className="grid gap-x-6 px-4 py-3 hover:bg-paper md:grid-cols-[8rem_minmax(0,4fr)_minmax(0,3fr)]"
                >
                  <span className="font-mono text-sm text-soft">{dayAndClock(entry.at)}</span>
                  <span>
                    <span className="font-bold">{entry.job_name}</span>
                    <br />
                    {entry.text}
                    {entry.figures.energy_j_mm2 !== undefined && (
                      <span className="font-mono text-soft"> · {showEnergy(entry.figures.energy_j_mm2)}</span>
                    )}
                  </span>
                  <span className="text-sm text-soft">
                    {entry.process}
                    <br />
                    {entry.substrate}; {entry.coat}; {entry.machine}
                  </span>
                </Link>
              </li>
            ))}
          </ul>
        </>
      )}
    </>
  )
}
