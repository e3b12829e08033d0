import { useState } from 'react'
import { useCatalogue, useMachines } from '../../api/hooks'
import { SelectField, TextField } from '../../ui/form'
import { More } from '../../ui/More'
import { Chip } from '../../ui/parts'
import type { WantedName } from './useBurns'

type Choose = (changes: Partial<Record<WantedName, string>>) => void
type Wanted = Record<WantedName, string>

const OUTCOMES: [string, string][] = [
  ['failed', 'Something went wrong'],
  ['all_clean', 'All clean'],
  ['faint', 'Some faint'],
  ['harsh', 'Some harsh'],
  ['spoilt', 'Some spoilt'],
  ['unseen', 'Not looked at'],
]
const KINDS: [string, string][] = [
  ['grid', 'test grids'],
  ['batch', 'batches'],
  ['run', 'runs told afterwards'],
  ['artwork', 'single pieces of artwork'],
]

/** What is looked for; all of it combines. */
export function BurnFilters({ wanted, choose }: { wanted: Wanted; choose: Choose }) {
  const catalogue = useCatalogue().data
  const machines = useMachines().data ?? []
  const substrates = catalogue?.substrates.filter((s) => !s.refused) ?? []
  const rarer = (['process', 'kind', 'defect', 'since', 'until'] as const).filter((name) => wanted[name])
  return (
    <div role="search" className="mb-4">
      <div className="grid grid-cols-2 gap-3 lg:grid-cols-4">
        <Words at={wanted.words} choose={choose} />
        <Choice
          name="substrate"
          label="Substrate"
          wanted={wanted}
          choose={choose}
          from={substrates.map((s) => [s.key, s.label])}
        />
        <Choice
          name="coat"
          label="Coat"
          wanted={wanted}
          choose={choose}
          from={(catalogue?.coats ?? []).map((c) => [c.key, c.label])}
        />
        <Choice
          name="machine"
          label="Machine"
          wanted={wanted}
          choose={choose}
          from={machines.map((m) => [m.name, m.name])}
        />
      </div>
      <div className="mt-3 flex flex-wrap gap-2" role="group" aria-label="Outcome">
        {OUTCOMES.map(([key, label]) => (
          <Chip
            key={key}
            on={wanted.outcome === key}
            toggle={() => choose({ outcome: wanted.outcome === key ? '' : key })}
          >
            {label}
          </Chip>
        ))}
      </div>
      <More
        heading={`Process, kind, fault, days${rarer.length ? ` (${rarer.length} chosen)` : ''}`}
        className="mt-1"
      >
        <div className="grid gap-3 sm:grid-cols-2 lg:grid-cols-5">
          <Choice
            name="process"
            label="Process"
            wanted={wanted}
            choose={choose}
            from={(catalogue?.processes ?? []).map((p) => [p.key, p.label])}
          />
          <Choice name="kind" label="What was burned" wanted={wanted} choose={choose} from={KINDS} />
          <Choice
            name="defect"
            label="Fault seen"
            wanted={wanted}
            choose={choose}
            from={(catalogue?.defects ?? []).map((d) => [d.key, d.label])}
          />
          {(['since', 'until'] as const).map((name) => (
            <TextField
              key={name}
              label={name === 'since' ? 'From day' : 'To day'}
              name={name}
              type="date"
              value={wanted[name]}
              onChange={(e) => choose({ [name]: e.target.value })}
            />
          ))}
        </div>
      </More>
    </div>
  )
}

/** Its own text, since the address follows a moment later. */
function Words({ at, choose }: { at: string; choose: Choose }) {
  const [words, setWords] = useState(at)
  return (
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
  )
}

function Choice({
  name,
  label,
  wanted,
  choose,
  from,
}: {
  name: WantedName
  label: string
  wanted: Wanted
  choose: Choose
  from: [string, string][]
}) {
  return (
    <SelectField
      label={label}
      name={name}
      value={wanted[name]}
      onChange={(e) => choose({ [name]: e.target.value })}
    >
      <option value="">any</option>
      {from.map(([key, words]) => (
        <option key={key} value={key}>
          {words}
        </option>
      ))}
    </SelectField>
  )
}
