import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { useParams } from 'react-router'
import { api, body, type Schema } from '../../api/client'
import { fetchAnew, keys } from '../../api/keys'
import { useCatalogue, useMachines, useSpotTests } from '../../api/hooks'
import { Findings, Loading, Problem } from '../../ui/feedback'
import { RefusalScope, SelectField, TypedField } from '../../ui/form'
import { Button, Card, Figures, LinkButton } from '../../ui/parts'
import { dayAndClock, inUnit, toBase, useUnits } from '../../ui/units'
import { PairTable, readPairs } from './PairTable'
import { SpotPlot } from '../../drawing/SpotPlot'
import { StripesForm } from './StripesForm'
import { Heading } from '../../ui/Heading'

type Test = Schema<'SpotTestOut'>

/** A machine's own spot, threshold and focus, from lines that were burned and measured. */
export default function SpotPage() {
  const id = Number(useParams().id)
  const machines = useMachines()
  const tests = useSpotTests(id)
  const kept = useKept(id)
  if (machines.isPending || tests.isPending) return <Loading what="line tests" />
  if (tests.isError) return <Problem error={tests.error} again={() => void tests.refetch()} />
  const machine = machines.data?.find((m) => m.id === id)
  if (!machine) return <p>There is no such machine in your workshop.</p>
  return (
    <>
      <div className="mb-4 flex flex-wrap items-center justify-between gap-3">
        <Heading title={`Spot and focus – ${machine.name}`}>
          Spot and focus <span className="font-normal text-soft">of {machine.name}</span>
        </Heading>
        <LinkButton to="/shop">Back to the shop</LinkButton>
      </div>
      <div className="grid items-start gap-4 lg:grid-cols-2">
        <LinesForm machine={machine} />
        <LadderForm machine={machine} />
        <StripesForm machine={machine} kept={() => void kept()} />
        {tests.data.map((test) => (
          <TestCard key={test.id} test={test} machine={machine} />
        ))}
      </div>
    </>
  )
}

const KINDS = { lines: 'Lines', ladder: 'Focus ladder', stripes: 'Stripes' }

function useKept(machineId: number) {
  const client = useQueryClient()
  return () => fetchAnew.these(client, keys.spotTests(machineId), keys.machines, keys.everyJob)
}

function LinesForm({ machine }: { machine: Schema<'MachineOut'> }) {
  const { speed } = useUnits()
  const catalogue = useCatalogue().data
  const [rows, setRows] = useState<[string, string][]>(
    ['15', '20', '30', '45', '65', '100'].map((p) => [p, '']),
  )
  const [pace, setPace] = useState('')
  const [process, setProcess] = useState('')
  const [coat, setCoat] = useState('')
  const kept = useKept(machine.id)
  const keep = useMutation({
    mutationFn: (input: Schema<'LinesIn'>) =>
      body(
        api.POST('/api/machines/{machine_id}/line-tests', {
          params: { path: { machine_id: machine.id } },
          body: input,
        }),
      ),
    onSuccess: kept,
  })
  const pairs = readPairs(rows)
  return (
    <RefusalScope error={keep.error}>
      <Card title="Lines at rising power">
        <p>
          In focus, burn single lines at one speed and these powers, into the coat that you use. Measure each
          across, through a loupe with a scale or from a photo.
        </p>
        <div className="mt-3 grid gap-3 sm:grid-cols-3">
          <TypedField
            label="Speed"
            name="speed_mm_s"
            unit={speed.label}
            inputMode="decimal"
            value={pace}
            set={setPace}
          />
          <SelectField
            label="Into"
            name="process"
            value={process}
            onChange={(e) => setProcess(e.target.value)}
          >
            <option value="">something else</option>
            {catalogue?.processes.map((p) => (
              <option key={p.key} value={p.key}>
                {p.label}
              </option>
            ))}
          </SelectField>
          <SelectField label="Coat" name="coat" value={coat} onChange={(e) => setCoat(e.target.value)}>
            <option value="">something else</option>
            {catalogue?.coats.map((c) => (
              <option key={c.key} value={c.key}>
                {c.label}
              </option>
            ))}
          </SelectField>
        </div>
        <PairTable rows={rows} setRows={setRows} first="Power, %" second="Width, µm" name="lines" />
        <Button
          look="main"
          className="mt-3"
          disabled={!pairs || !pace || keep.isPending}
          onClick={() =>
            pairs &&
            keep.mutate({
              speed_mm_s: toBase(Number(pace), speed),
              process,
              coat,
              lines: pairs.map(([power_pct, width_um]) => ({ power_pct, width_um })),
            })
          }
        >
          Read the lines
        </Button>
        {keep.isError && <Problem error={keep.error} />}
        <p className="mt-3 text-sm text-soft">
          Eyewear on, extraction running, and somebody stays with it. At{' '}
          {inUnit(machine.max_speed_mm_s, speed).toFixed(0)} {speed.label} lines may not mark at all: go
          slower.
        </p>
      </Card>
    </RefusalScope>
  )
}

function LadderForm({ machine }: { machine: Schema<'MachineOut'> }) {
  const [rows, setRows] = useState<[string, string][]>(
    ['-3', '-2', '-1', '0', '1', '2', '3'].map((z) => [z, '']),
  )
  const kept = useKept(machine.id)
  const keep = useMutation({
    mutationFn: (input: Schema<'LadderIn'>) =>
      body(
        api.POST('/api/machines/{machine_id}/focus-ladders', {
          params: { path: { machine_id: machine.id } },
          body: input,
        }),
      ),
    onSuccess: kept,
  })
  const pairs = readPairs(rows)
  return (
    <RefusalScope error={keep.error}>
      <Card title="Focus ladder">
        <p>
          One speed, three to four times the power that just marks, the head at five or more heights around
          the usual one. A height that left no mark counts too: width 0.
        </p>
        <PairTable rows={rows} setRows={setRows} first="Height, mm" second="Width, µm" name="rungs" />
        <Button
          look="main"
          className="mt-3"
          disabled={!pairs || keep.isPending}
          onClick={() =>
            pairs && keep.mutate({ rungs: pairs.map(([height_mm, width_um]) => ({ height_mm, width_um })) })
          }
        >
          Read the ladder
        </Button>
        {keep.isError && <Problem error={keep.error} />}
      </Card>
    </RefusalScope>
  )
}

/** What a stripe test says: what is typed in at each speed, and where that comes from. */
function BothWays({ test }: { test: Test }) {
  const { showSpeed } = useUnits()
  const { play_mm: play, delay_ms: delay } = test
  if (!play || !delay) return null
  return (
    <Figures
      rows={[
        ...test.points.map(({ speed_mm_s: v = 0, offset_mm: apart = 0 }, n): [string, string] => [
          `At ${showSpeed(v)}, ${apart.toFixed(2)} mm apart`,
          `type in ${test.corrections_mm[n]?.toFixed(2)} mm`,
        ]),
        ['The beam comes on late by', ranged(delay, 2, 'ms')],
        ['Play of the belt', ranged(play, 2, 'mm')],
      ]}
    />
  )
}

const ranged = (e: Schema<'RangeOut'>, digits: number, unit: string) =>
  `${e.mid.toFixed(digits)} (${e.low.toFixed(digits)} to ${e.high.toFixed(digits)}) ${unit}`

function TestCard({ test, machine }: { test: Test; machine: Schema<'MachineOut'> }) {
  const kept = useKept(machine.id)
  const take = useMutation({
    mutationFn: () =>
      body(
        api.POST('/api/spot-tests/{test_id}/take', {
          params: { path: { test_id: test.id } },
          body: { version: machine.version },
        }),
      ),
    onSuccess: kept,
  })
  const { radius_um: radius, threshold_pct: threshold, height_mm: height, spot_mm: spot } = test
  const taken = spot !== null && Math.abs(spot - machine.spot_mm) < 1e-4
  return (
    <Card title={`${KINDS[test.kind]}, ${dayAndClock(test.at)}`}>
      {test.kind === 'stripes' ? <BothWays test={test} /> : <SpotPlot test={test} />}
      {radius && threshold && spot !== null && (
        <>
          <Figures
            rows={[
              ['Spot, 1/e² across', `${(1000 * spot).toFixed(0)} µm`],
              ['its radius', ranged(radius, 1, 'µm')],
              ['Power that just marks', ranged(threshold, 1, '%')],
              ['r²', test.r2?.toFixed(3)],
            ]}
          />
          <Button className="mt-3" disabled={taken || take.isPending} onClick={() => take.mutate()}>
            {taken ? 'This is the machine’s spot' : `Take ${spot.toFixed(3)} mm as its spot`}
          </Button>
        </>
      )}
      {height && (
        <Figures
          rows={[
            ['In focus at', ranged(height, 2, 'mm')],
            ['Width there', `${test.width_um?.toFixed(0)} µm`],
            ...(test.times_threshold
              ? ([['Burned at', `${test.times_threshold.toFixed(1)} × what just marks`]] as [
                  string,
                  string,
                ][])
              : []),
          ]}
        />
      )}
      {take.isError && <Problem error={take.error} />}
      <Findings list={test.findings} />
    </Card>
  )
}
