import { useState } from 'react'
import { TextField } from '../../ui/form'
import { More } from '../../ui/More'
import { Chip } from '../../ui/parts'
import { ChoiceField, useChoices } from './ChoiceField'
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
  const { substrates, processes, coats, defects, machines } = useChoices()
  const pick = (name: WantedName) => ({
    name,
    value: wanted[name],
    choose: (value: string) => choose({ [name]: value }),
  })
  const rarer = (['process', 'kind', 'defect', 'since', 'until'] as const).filter((name) => wanted[name])
  return (
    <div role="search" className="mb-4">
      <div className="grid grid-cols-2 gap-3 lg:grid-cols-4">
        <Words at={wanted.words} choose={choose} />
        <ChoiceField {...pick('substrate')} label="Substrate" from={substrates} />
        <ChoiceField {...pick('coat')} label="Coat" from={coats} />
        <ChoiceField {...pick('machine')} label="Machine" from={machines.map((m) => [m.name, m.name])} />
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
          <ChoiceField {...pick('process')} label="Process" from={processes} />
          <ChoiceField {...pick('kind')} label="What was burned" from={KINDS} />
          <ChoiceField {...pick('defect')} label="Fault seen" from={defects} />
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
