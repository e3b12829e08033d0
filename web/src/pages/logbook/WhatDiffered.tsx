import type { Schema } from '../../api/client'
import { Card } from '../../ui/parts'
import { useUnits } from '../../ui/units'

type Fact = Schema<'FactOut'>

/** What was not the same for all: a column for each, by its key and its title. */
export function WhatDiffered({ facts, of }: { facts: Fact[]; of: [string | number, string][] }) {
  const apart = facts.filter((fact) => fact.differs)
  return (
    <Card title="What differed">
      {apart.length === 0 && <p>Nothing that is written down.</p>}
      {apart.length > 0 && (
        <div className="overflow-x-auto" role="region" aria-label="Table of what differed" tabIndex={0}>
          <table className="w-full text-left text-sm">
            <thead className="text-soft">
              <tr>
                <th scope="col" className="pr-3 pb-1 font-normal">
                  <span className="sr-only">What</span>
                </th>
                {of.map(([key, title]) => (
                  <th key={key} scope="col" className="pr-3 pb-1 font-bold text-ink">
                    {title}
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {apart.map((fact) => (
                <tr key={fact.name} className="border-t border-line align-top">
                  <th scope="row" className="py-1.5 pr-3 font-normal text-soft">
                    {fact.name}
                  </th>
                  {fact.values.map((value, i) => (
                    <td key={of[i]?.[0]} className="py-1.5 pr-3">
                      <Value fact={fact} value={value} />
                    </td>
                  ))}
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
    </Card>
  )
}

/** What was the same for all, if anything was. */
export function TheSame({ facts }: { facts: Fact[] }) {
  const same = facts.filter((fact) => !fact.differs)
  if (same.length === 0) return null
  return (
    <Card title="What was the same">
      <dl className="grid gap-x-8 sm:grid-cols-2 lg:grid-cols-3">
        {same.map((fact) => (
          <div key={fact.name} className="flex justify-between gap-4 border-b border-line py-1.5">
            <dt className="text-soft">{fact.name}</dt>
            <dd className="text-right">
              <Value fact={fact} value={fact.values[0] ?? ''} />
            </dd>
          </div>
        ))}
      </dl>
    </Card>
  )
}

/** Words as they are; speeds and distances of lines in the reader's units. */
function Value({ fact, value }: { fact: Fact; value: string | number }) {
  const { showSpeed, showInterval } = useUnits()
  if (typeof value === 'string') return <>{value}</>
  const shown =
    fact.unit === 'mm/s'
      ? showSpeed(value)
      : fact.name === 'lines'
        ? showInterval(value)
        : `${Number(value.toPrecision(4))} ${fact.unit}`
  return <span className="font-mono">{shown}</span>
}
