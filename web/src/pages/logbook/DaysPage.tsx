import { useQuery } from '@tanstack/react-query'
import { useDeferredValue, useState } from 'react'
import { Link, useSearchParams } from 'react-router'
import { keys } from '../../api/keys'
import { api, body } from '../../api/client'
import { useCatalogue, useMachines } from '../../api/hooks'
import { Empty, Loading, Problem } from '../../ui/feedback'
import { SelectField, TextField } from '../../ui/form'
import { Button } from '../../ui/parts'
import { LogbookHead } from './LogbookHead'
import { dayAndClock, showEnergy } from '../../ui/units'

export default function DaysPage() {
  const [address, setAddress] = useSearchParams()
  const [words, setWords] = useState(address.get('words') ?? '')
  const late = useDeferredValue(words)
  const chosen = (name: string) => address.get(name) ?? ''
  const wanted = {
    words: late,
    substrate: chosen('substrate'),
    coat: chosen('coat'),
    machine: chosen('machine'),
  }
  const found = useQuery({
    queryKey: keys.logbook(wanted),
    queryFn: () => body(api.GET('/api/logbook', { params: { query: wanted } })),
    placeholderData: (last) => last,
  })
  const catalogue = useCatalogue().data
  const machines = useMachines().data ?? []
  const choose = (name: string, value: string) =>
    setAddress(
      (now) => {
        if (value) now.set(name, value)
        else now.delete(name)
        return now
      },
      { replace: true },
    )
  const searching = Object.values(wanted).some(Boolean)
  return (
    <>
      <LogbookHead />
      <div className="mb-4 grid gap-3 sm:grid-cols-2 lg:grid-cols-4" role="search">
        <TextField
          label="Words"
          name="words"
          type="search"
          placeholder="cloche frost"
          value={words}
          onChange={(e) => {
            setWords(e.target.value)
            choose('words', e.target.value)
          }}
        />
        <SelectField
          label="Substrate"
          name="substrate"
          value={wanted.substrate}
          onChange={(e) => choose('substrate', e.target.value)}
        >
          <option value="">any</option>
          {catalogue?.substrates
            .filter((s) => !s.refused)
            .map((s) => (
              <option key={s.key} value={s.key}>
                {s.label}
              </option>
            ))}
        </SelectField>
        <SelectField
          label="Coat"
          name="coat"
          value={wanted.coat}
          onChange={(e) => choose('coat', e.target.value)}
        >
          <option value="">any</option>
          {catalogue?.coats.map((c) => (
            <option key={c.key} value={c.key}>
              {c.label}
            </option>
          ))}
        </SelectField>
        <SelectField
          label="Machine"
          name="machine"
          value={wanted.machine}
          onChange={(e) => choose('machine', e.target.value)}
        >
          <option value="">any</option>
          {machines.map((m) => (
            <option key={m.id}>{m.name}</option>
          ))}
        </SelectField>
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
                setAddress({}, { replace: true })
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
