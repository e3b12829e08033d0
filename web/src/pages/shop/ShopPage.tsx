import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { fetchAnew, keys } from '../../api/keys'
import { api, body, type Schema } from '../../api/client'
import { useCatalogue, useMachines, useRoom, useSession } from '../../api/hooks'
import { RoomForm } from '../../chapters/coat/RoomForm'
import { Loading, Problem } from '../../ui/feedback'
import { RefusalScope, SelectField, TextField } from '../../ui/form'
import { Button, Card, Figures, LinkButton } from '../../ui/parts'
import { typedPercent, useUnits } from '../../ui/units'
import { EyewearCard } from './EyewearCard'
import { JigsCard } from './JigsCard'
import { MachineForm } from './MachineForm'
import { PasswordCard } from './PasswordCard'
import { RatesCard } from './RatesCard'
import { RoomTakenCard } from './RoomTakenCard'
import { ShelfCards } from './ShelfCards'
import { TakeAllCard } from './TakeAllCard'
import { Heading } from '../../ui/Heading'

export default function ShopPage() {
  const machines = useMachines()
  const owner = useSession().data?.owner
  const [editing, setEditing] = useState<number | 'new' | null>(null)
  if (machines.isPending) return <Loading what="shop" />
  if (machines.isError) return <Problem error={machines.error} again={() => void machines.refetch()} />
  return (
    <>
      <Heading title="Shop" className="mb-4">
        Shop
      </Heading>
      <div className="grid items-start gap-4 lg:grid-cols-[minmax(0,2fr)_minmax(0,1fr)]">
        <div className="grid gap-4">
          {machines.data.map((machine) =>
            editing === machine.id ? (
              <MachineForm key={machine.id} machine={machine} done={() => setEditing(null)} />
            ) : (
              <MachineCard key={machine.id} machine={machine} edit={() => setEditing(machine.id)} />
            ),
          )}
          {editing === 'new' ? (
            <MachineForm machine={null} done={() => setEditing(null)} />
          ) : (
            <Button onClick={() => setEditing('new')}>Add a machine</Button>
          )}
          <ShelfCards />
        </div>
        <div className="grid gap-4">
          <UnitsCard />
          <EyewearCard />
          <JigsCard />
          <ScatterCard />
          <RatesCard />
          <RoomCard />
          <Card title="Which coat is best?">
            <p>Burn the same small grid on several coats.</p>
            <LinkButton className="mt-3" to="/compare">
              Compare coats
            </LinkButton>
          </Card>
          {owner && <RoomTakenCard />}
          <TakeAllCard />
          <PasswordCard />
          <SignOutCard />
        </div>
      </div>
    </>
  )
}

const COMES_OUT = { continuous: 'steadily', pulsed: 'in pulses', unknown: 'not known' }

function MachineCard({ machine, edit }: { machine: Schema<'MachineOut'>; edit: () => void }) {
  const beams = useCatalogue().data?.beams ?? []
  const { showSpeed } = useUnits()
  return (
    <Card title={`Machine: ${machine.name}`}>
      <div className="flex items-start justify-end gap-3">
        <span className="flex flex-wrap justify-end gap-2">
          <LinkButton to={`/shop/machines/${machine.id}/spot`}>Spot and focus</LinkButton>
          <LinkButton to={`/shop/machines/${machine.id}/turning`}>Turning devices</LinkButton>
          <Button onClick={edit}>Change</Button>
        </span>
      </div>
      <div className="mt-2 grid gap-x-8 sm:grid-cols-2">
        <Figures
          rows={[
            ['Beam', beams.find((b) => b.key === machine.source)?.label],
            ['Rated', `${machine.rated_w} W`],
            ['Spot', `${machine.spot_mm} mm`],
            ['Least power', `${machine.min_power_pct} %`],
            ['Comes out', COMES_OUT[machine.pulsing ?? 'unknown']],
          ]}
        />
        <Figures
          rows={[
            ['Slowest', showSpeed(machine.min_speed_mm_s)],
            ['Fastest', showSpeed(machine.max_speed_mm_s)],
            ['Acceleration', `${machine.accel_mm_s2} mm/s²`],
            ['Bed', `${machine.bed_x_mm} × ${machine.bed_y_mm} mm`],
          ]}
        />
      </div>
    </Card>
  )
}

function UnitsCard() {
  const client = useQueryClient()
  const session = useSession().data
  const units = useCatalogue().data?.units ?? []
  const choose = useMutation({
    // One after the other, each with what the one before left: keys choose faster than a server answers.
    scope: { id: 'units' },
    mutationFn: (wanted: Omit<Schema<'Units'>, 'version'>) => {
      const version = client.getQueryData<Schema<'Session'>>(keys.session)?.version ?? 0
      return body(api.PUT('/api/session/units', { body: { ...wanted, version } }))
    },
    onSuccess: (changed) => {
      client.setQueryData(keys.session, changed)
      void fetchAnew.these(client, keys.everyJob)
    },
  })
  if (!session) return null
  const now = { speed_unit: session.speed_unit, interval_unit: session.interval_unit }
  const options = (quantity: string) =>
    units
      .filter((u) => u.quantity === quantity)
      .map((u) => (
        <option key={u.key} value={u.key}>
          {u.label}
        </option>
      ))
  return (
    <Card title="Units you read">
      <div className="grid grid-cols-2 gap-3">
        <SelectField
          label="Speed"
          name="speed_unit"
          value={now.speed_unit}
          onChange={(e) => choose.mutate({ ...now, speed_unit: e.target.value })}
        >
          {options('speed')}
        </SelectField>
        <SelectField
          label="Lines"
          name="interval_unit"
          value={now.interval_unit}
          onChange={(e) => choose.mutate({ ...now, interval_unit: e.target.value })}
        >
          {options('interval')}
        </SelectField>
      </div>
      {choose.isError && <Problem error={choose.error} />}
    </Card>
  )
}

function RoomCard() {
  const room = useRoom().data
  if (!room) return null
  return (
    <Card title="Room">
      <RoomForm room={room} />
    </Card>
  )
}

const SHARES = [
  ['coat_cv', 'Coat thickness'],
  ['power_cv', 'Power'],
  ['focus_cv', 'Focus'],
  ['wanted_share', 'Clean pieces wanted'],
] as const

function ScatterCard() {
  const client = useQueryClient()
  const scatter = useQuery({ queryKey: keys.scatter, queryFn: () => body(api.GET('/api/scatter')) })
  const [own, setOwn] = useState<Record<string, string>>({})
  // What was there when somebody began to type.
  const [seen, see] = useState<number | null>(null)
  const save = useMutation({
    mutationFn: (wanted: Schema<'ScatterBody'>) => body(api.PUT('/api/scatter', { body: wanted })),
    onSuccess: (changed) => {
      client.setQueryData(keys.scatter, changed)
      setOwn({})
      see(null)
      void fetchAnew.these(client, keys.everyJob)
    },
  })
  const now = scatter.data
  if (!now) return null
  const share = (name: (typeof SHARES)[number][0]) => (name in own ? Number(own[name]) / 100 : now[name])
  return (
    <Card title="How much your pieces vary">
      <RefusalScope error={save.error}>
        <form
          className="grid gap-3"
          onSubmit={(event) => {
            event.preventDefault()
            save.mutate({
              coat_cv: share('coat_cv'),
              power_cv: share('power_cv'),
              focus_cv: share('focus_cv'),
              wanted_share: share('wanted_share'),
              version: seen ?? now.version,
            })
          }}
        >
          {SHARES.map(([name, label]) => (
            <TextField
              key={name}
              label={label}
              name={name}
              unit="%"
              inputMode="decimal"
              value={own[name] ?? typedPercent(now[name])}
              onChange={(e) => {
                see(seen ?? now.version)
                setOwn({ ...own, [name]: e.target.value })
              }}
            />
          ))}
          <p className="text-sm text-soft">
            From piece to piece, as a share. Our guesses until you measured; more scatter locks a slower
            setting.
          </p>
          <Button type="submit" disabled={save.isPending || Object.keys(own).length === 0}>
            Save
          </Button>
        </form>
      </RefusalScope>
    </Card>
  )
}

function SignOutCard() {
  const client = useQueryClient()
  const session = useSession().data
  const leave = useMutation({
    mutationFn: () => body(api.DELETE('/api/session')),
    onSuccess: () => client.resetQueries(),
  })
  return (
    <Card title="Account">
      <p>
        {session?.user}, {session?.workshop}
      </p>
      <Button className="mt-3" onClick={() => leave.mutate()}>
        Sign out
      </Button>
    </Card>
  )
}
