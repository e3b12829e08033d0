import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { fetchAnew } from '../../api/keys'
import { api, body, type Schema } from '../../api/client'
import { Findings, Problem } from '../../ui/feedback'
import { RefusalScope, TypedField } from '../../ui/form'
import { Button } from '../../ui/parts'
import { dayAndClock } from '../../ui/units'

/** The air in the room: read by the sensor, or typed in. Everything that dries follows it. */
export function RoomForm({ room }: { room: Schema<'RoomOut'> }) {
  const client = useQueryClient()
  const [temperature, setTemperature] = useState('')
  const [humidity, setHumidity] = useState('')
  const onSuccess = () => fetchAnew.everything(client)
  const note = useMutation({
    mutationFn: () =>
      body(
        api.POST('/api/room/readings', {
          body: { temperature_c: figure(temperature), humidity_pct: figure(humidity) },
        }),
      ),
    onSuccess: () => {
      setTemperature('')
      setHumidity('')
      return onSuccess()
    },
  })
  const sensor = useMutation({
    mutationFn: (on: boolean) => body(api.PUT('/api/room/sensor', { body: { on, was: room.simulated } })),
    onSuccess,
  })
  return (
    <div>
      {room.temperature_c !== null && room.at ? (
        <>
          <p className="font-mono text-xl font-bold">
            {room.temperature_c.toFixed(1)} °C · {room.humidity_pct?.toFixed(0)} %
          </p>
          <p className="text-sm text-soft">
            dew point {room.dew_point_c?.toFixed(1)} °C,{' '}
            {room.simulated ? 'from the simulated sensor' : `read ${dayAndClock(room.at)}`}
          </p>
        </>
      ) : (
        <p className="text-soft">Nobody has read the room; times hold for 20 °C and 50 %.</p>
      )}
      <div className="mt-2 grid gap-2">
        <Findings list={room.findings} />
      </div>
      {!room.simulated && (
        <RefusalScope error={note.error}>
          <form
            className="mt-3 grid grid-cols-2 gap-3"
            onSubmit={(event) => {
              event.preventDefault()
              note.mutate()
            }}
          >
            <TypedField
              label="Temperature"
              unit="°C"
              name="temperature_c"
              inputMode="decimal"
              value={temperature}
              set={setTemperature}
            />
            <TypedField
              label="Humidity"
              unit="%"
              name="humidity_pct"
              inputMode="decimal"
              value={humidity}
              set={setHumidity}
            />
            <Button
              type="submit"
              className="col-span-2"
              disabled={note.isPending || !temperature || !humidity}
            >
              Note the air
            </Button>
          </form>
        </RefusalScope>
      )}
      {(note.error ?? sensor.error) && <Problem error={note.error ?? sensor.error} />}
      <Button look="quiet" className="mt-1" onClick={() => sensor.mutate(!room.simulated)}>
        {room.simulated ? 'Switch the simulated sensor off' : 'Try the simulated sensor'}
      </Button>
    </div>
  )
}

/** A decimal comma is as good as a point. */
function figure(text: string): number {
  return Number(text.replace(',', '.'))
}
