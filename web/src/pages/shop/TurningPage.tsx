import { useMutation, useQueryClient } from '@tanstack/react-query'
import { Download } from 'lucide-react'
import { useState } from 'react'
import { useParams } from 'react-router'
import { api, body, type Schema } from '../../api/client'
import { fetchAnew, keys } from '../../api/keys'
import { useMachines, useSquaring, useTurningDevices, useTurningSteps } from '../../api/hooks'
import { GuidePlate } from './GuidePlate'
import { Loading, Problem } from '../../ui/feedback'
import { FigureField } from '../../ui/FigureField'
import { More } from '../../ui/More'
import { useSettled } from '../../ui/useSettled'
import { RefusalScope, SelectField, TickField, TypedField } from '../../ui/form'
import { Button, Card, Figures, FileLink, LinkButton } from '../../ui/parts'
import { Heading } from '../../ui/Heading'

type Device = Schema<'DeviceOut'>
type Told = Schema<'DeviceIn'>

const FRESH: Told = {
  name: '',
  kind: 'chuck',
  mm_per_turn: 100,
  stands_in_for: 'y',
  roller_mm: 0,
  backwards: false,
}

/** What turns round pieces on a machine, and how far it truly turns. */
export default function TurningPage() {
  const id = Number(useParams().id)
  const machines = useMachines()
  const devices = useTurningDevices(id)
  const client = useQueryClient()
  const kept = () => fetchAnew.these(client, keys.turning(id), keys.everyJob)
  if (machines.isPending || devices.isPending) return <Loading what="turning devices" />
  if (devices.isError) return <Problem error={devices.error} again={() => void devices.refetch()} />
  // The practice bench's machines stand in no list; the server knows who may see their devices.
  const machine = machines.data?.find((m) => m.id === id)
  return (
    <>
      <div className="mb-4 flex flex-wrap items-center justify-between gap-3">
        <Heading title={`Turning devices – ${machine?.name ?? 'practice bench'}`}>
          Turning devices{' '}
          <span className="font-normal text-soft">of {machine?.name ?? 'the practice bench'}</span>
        </Heading>
        {machine ? (
          <LinkButton to="/shop">Back to the shop</LinkButton>
        ) : (
          <LinkButton to="/practice">Back to practising</LinkButton>
        )}
      </div>
      <div className="grid items-start gap-4 lg:grid-cols-2">
        {devices.data.map((device) => (
          <DeviceCard key={device.id} device={device} kept={kept} practice={!machine} />
        ))}
        {machine && <NewDevice machineId={id} kept={kept} />}
        <SquareCard />
      </div>
    </>
  )
}

function DeviceFields({ told, change }: { told: Told; change: (part: Partial<Told>) => void }) {
  return (
    <div className="grid gap-3 sm:grid-cols-2">
      <TypedField label="Name" name="name" value={told.name} set={(name) => change({ name })} />
      <SelectField
        label="It is"
        name="kind"
        value={told.kind}
        onChange={(e) => change({ kind: e.target.value as Told['kind'] })}
      >
        <option value="chuck">a chuck, which grips the piece</option>
        <option value="rollers">rollers, which carry it</option>
      </SelectField>
      <FigureField
        label={told.kind === 'chuck' ? 'Axis for one turn' : 'Axis for one turn of a roller'}
        name="mm_per_turn"
        value={told.mm_per_turn}
        set={(mm_per_turn) => change({ mm_per_turn })}
      />
      <SelectField
        label="It stands in for"
        name="stands_in_for"
        value={told.stands_in_for}
        onChange={(e) => change({ stands_in_for: e.target.value as Told['stands_in_for'] })}
      >
        <option value="x">X</option>
        <option value="y">Y</option>
      </SelectField>
      {told.kind === 'rollers' && (
        <FigureField
          label="Roller across"
          name="roller_mm"
          value={told.roller_mm ?? 0}
          set={(roller_mm) => change({ roller_mm })}
        />
      )}
      <TickField checked={told.backwards ?? false} onChange={(e) => change({ backwards: e.target.checked })}>
        It turns the other way
      </TickField>
    </div>
  )
}

/** The turning axis against the head's travel: how to turn the device until both run alike. */
function SquareCard() {
  const [told, setTold] = useState({ near_mm: 0, far_mm: 0, travel_mm: 200, feet_mm: 120 })
  const asked = useSettled(told, 300)
  const found = useSquaring(asked)
  const square = found.data
  return (
    <RefusalScope error={found.error}>
      <Card title="Square to the bed">
        <p className="text-soft">
          Clamp a straight round piece. Bring the pointer over its ridge, let the head travel along it, and
          measure how far beside the ridge it falls at both ends: to the left above zero, to the right below.
        </p>
        <div className="mt-3 grid grid-cols-2 gap-2">
          <FigureField
            label="Beside it, near end"
            name="near_mm"
            value={told.near_mm}
            set={(near_mm) => setTold((old) => ({ ...old, near_mm }))}
          />
          <FigureField
            label="Beside it, far end"
            name="far_mm"
            value={told.far_mm}
            set={(far_mm) => setTold((old) => ({ ...old, far_mm }))}
          />
          <FigureField
            label="Head’s travel"
            name="travel_mm"
            value={told.travel_mm}
            set={(travel_mm) => setTold((old) => ({ ...old, travel_mm }))}
          />
          <FigureField
            label="Its feet apart"
            name="feet_mm"
            value={told.feet_mm}
            set={(feet_mm) => setTold((old) => ({ ...old, feet_mm }))}
          />
        </div>
        {square && (
          <p className="mt-3">
            {square.shift_mm < 0.05 ? (
              'It lies square.'
            ) : (
              <>
                Shift its far foot by{' '}
                <span className="font-mono font-bold">{square.shift_mm.toFixed(1)} mm</span>{' '}
                {square.counterclockwise ? 'to the left' : 'to the right'}: {square.angle_deg.toFixed(2)}°.
              </>
            )}
          </p>
        )}
        {found.error && <Problem error={found.error} />}
      </Card>
    </RefusalScope>
  )
}

/** What a device's motor says, in millimetres a turn. */
function StepsHint({ take }: { take: (mm_per_turn: number) => void }) {
  const [told, setTold] = useState({ steps_per_turn: 0, steps_per_mm: 0 })
  const asked = useSettled(told, 300)
  const found = useTurningSteps(asked.steps_per_turn > 0 && asked.steps_per_mm > 0 ? asked : null).data
  return (
    <More heading="From motor steps">
      <div className="grid grid-cols-2 gap-2">
        <FigureField
          label="Steps a turn"
          name="steps_per_turn"
          unit=""
          value={told.steps_per_turn || null}
          set={(steps_per_turn) => setTold((old) => ({ ...old, steps_per_turn }))}
        />
        <FigureField
          label="Steps a mm"
          name="steps_per_mm"
          unit=""
          value={told.steps_per_mm || null}
          set={(steps_per_mm) => setTold((old) => ({ ...old, steps_per_mm }))}
        />
      </div>
      {found && (
        <Button className="mt-2" onClick={() => take(Math.round(1000 * found.mm_per_turn) / 1000)}>
          Take {found.mm_per_turn.toFixed(3)} mm
        </Button>
      )}
    </More>
  )
}

function NewDevice({ machineId, kept }: { machineId: number; kept: () => unknown }) {
  const [told, setTold] = useState(FRESH)
  const add = useMutation({
    mutationFn: (input: Told) =>
      body(
        api.POST('/api/machines/{machine_id}/turning-devices', {
          params: { path: { machine_id: machineId } },
          body: input,
        }),
      ),
    onSuccess: () => {
      setTold(FRESH)
      return kept()
    },
  })
  return (
    <RefusalScope error={add.error}>
      <Card title="Add one">
        <DeviceFields told={told} change={(part) => setTold((old) => ({ ...old, ...part }))} />
        <p className="mt-3 text-sm text-soft">A rough figure will do: two ticks correct it.</p>
        <StepsHint take={(mm_per_turn) => setTold((old) => ({ ...old, mm_per_turn }))} />
        <Button look="main" className="mt-3" disabled={add.isPending} onClick={() => add.mutate(told)}>
          Add it
        </Button>
        {add.error && <Problem error={add.error} />}
      </Card>
    </RefusalScope>
  )
}

function DeviceCard({ device, kept, practice }: { device: Device; kept: () => unknown; practice: boolean }) {
  const [ticks, setTicks] = useState({ asked_turns: 0.5, measured_mm: 0, round_mm: 250, is_seam: false })
  const path = { params: { path: { device_id: device.id } } }
  const measure = useMutation({
    mutationFn: () => body(api.POST('/api/turning-devices/{device_id}/ticks', { ...path, body: ticks })),
    onSuccess: kept,
  })
  const take = useMutation({
    mutationFn: () =>
      body(api.POST('/api/turning-devices/{device_id}/take', { ...path, body: { version: device.version } })),
    onSuccess: kept,
  })
  const tape = useMutation({
    mutationFn: () =>
      body(
        api.POST('/api/turning-devices/{device_id}/practice-ticks', {
          ...path,
          body: { asked_turns: ticks.asked_turns, round_mm: ticks.round_mm },
        }),
      ),
    onSuccess: ({ measured_mm }) =>
      setTicks((old) => ({ ...old, measured_mm, is_seam: Number.isInteger(old.asked_turns) })),
  })
  const found = device.calibrated
  const widest = ticks.round_mm / Math.PI
  return (
    <RefusalScope error={measure.error ?? take.error}>
      <Card title={device.kind === 'chuck' ? 'Chuck' : 'Rollers'}>
        <p className="text-xl font-bold">{device.name}</p>
        <div className="mt-2">
          <Figures
            rows={[
              ['Axis for one turn', `${device.mm_per_turn} mm`],
              ['Stands in for', device.stands_in_for.toUpperCase()],
              ...(device.kind === 'rollers'
                ? ([['Roller across', `${device.roller_mm} mm`]] as [string, string][])
                : []),
              [
                'By its ticks',
                found
                  ? `${found.mid.toFixed(2)} mm, ${found.low.toFixed(2)} to ${found.high.toFixed(2)}`
                  : 'not measured',
              ],
            ]}
          />
        </div>
        {found && device.seam_gap_mm !== null && Math.abs(device.seam_gap_mm) > 0.05 && (
          <div className="mt-3 rounded-xl bg-frost-tint p-3">
            <p className="font-bold">
              A mark all round would {device.seam_gap_mm > 0 ? 'leave a gap of' : 'overlap by'}{' '}
              {Math.abs(device.seam_gap_mm).toFixed(1)} mm.
            </p>
            <Button look="main" className="mt-2" disabled={take.isPending} onClick={() => take.mutate()}>
              Take {found.mid.toFixed(2)} mm
            </Button>
          </div>
        )}
        <h3 className="mt-4 font-bold">Two ticks</h3>
        <p className="text-sm text-soft">
          On a coated spare, burn two ticks so many turns apart and measure along the wall between them. After
          whole turns measure what is left over: a gap, or an overlap below zero.
        </p>
        <div className="mt-2 grid grid-cols-2 gap-2 sm:grid-cols-3">
          <FigureField
            label="Turns"
            name="asked_turns"
            unit=""
            value={ticks.asked_turns}
            set={(asked_turns) => setTicks((old) => ({ ...old, asked_turns }))}
          />
          <FigureField
            label="Round it"
            name="round_mm"
            value={ticks.round_mm}
            set={(round_mm) => setTicks((old) => ({ ...old, round_mm }))}
          />
          <FigureField
            label={ticks.is_seam ? 'Gap' : 'Between them'}
            name="measured_mm"
            value={ticks.measured_mm}
            set={(measured_mm) => setTicks((old) => ({ ...old, measured_mm }))}
          />
        </div>
        <TickField
          checked={ticks.is_seam}
          onChange={(e) => setTicks((old) => ({ ...old, is_seam: e.target.checked }))}
        >
          Whole turns: what is left at the seam
        </TickField>
        <div className="mt-2 flex flex-wrap gap-2">
          <FileLink
            href={`/api/turning-devices/${device.id}/ticks.gcode?turns=${ticks.asked_turns}&widest_mm=${widest.toFixed(2)}`}
          >
            <Download aria-hidden className="size-4" /> Ticks, G-code
          </FileLink>
          {practice && (
            <Button disabled={tape.isPending} onClick={() => tape.mutate()}>
              Burn and tape them on the practice bench
            </Button>
          )}
          <Button disabled={measure.isPending} onClick={() => measure.mutate()}>
            Keep what was measured
          </Button>
        </div>
        {(measure.error ?? take.error ?? tape.error) && (
          <Problem error={measure.error ?? take.error ?? tape.error} />
        )}
        <GuidePlate deviceId={device.id} />
        {device.tests.length > 0 && (
          <ul className="mt-3 text-sm text-soft">
            {device.tests.map((test) => (
              <li key={test.at}>
                <span className="font-mono">
                  {test.asked_turns} turns: {test.measured_mm.toFixed(1)} mm
                </span>{' '}
                on {test.round_mm} mm round
              </li>
            ))}
          </ul>
        )}
      </Card>
    </RefusalScope>
  )
}
