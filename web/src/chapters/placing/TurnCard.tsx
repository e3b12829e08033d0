import { useTurningDevices } from '../../api/hooks'
import type { Job } from '../../api/types'
import { FigureField } from '../../ui/FigureField'
import { SelectField } from '../../ui/form'
import { Card, Figures, LinkButton } from '../../ui/parts'
import type { Edit, Placing } from './usePlacingEdit'

/** What turns the piece, and how it is brought level; or the fixed head over it. */
export function TurnCard({ job, edit, placing }: { job: Job; edit: Edit; placing: Placing }) {
  const devices = useTurningDevices(job.machine_id).data ?? []
  const there = placing.round?.device
  return (
    <Card title="What turns it">
      <SelectField
        label="Turned by"
        name="device_id"
        value={edit.device_id ?? ''}
        onChange={(e) => edit.turnWith(e.target.value ? Number(e.target.value) : null)}
      >
        <option value="">nothing: a fixed head</option>
        {devices.map((device) => (
          <option key={device.id} value={device.id}>
            {device.name}, {device.kind} on {device.stands_in_for.toUpperCase()}
          </option>
        ))}
      </SelectField>
      <LinkButton look="quiet" className="-ml-2" to={`/shop/machines/${job.machine_id}/turning`}>
        {devices.length ? 'Turning devices' : 'Add a turning device'}
      </LinkButton>
      {there ? (
        <>
          <FigureField
            label="Supports apart"
            name="supports_mm"
            value={edit.spec.supports_mm ?? null}
            set={(supports_mm) => edit.change({ supports_mm })}
          />
          <div className="mt-3">
            <Figures
              rows={[
                ['Axis, once round', `${there.turn_mm.toFixed(2)} mm`],
                ['Axis for 1 mm of mark', `${there.axis_per_mm.toFixed(4)} mm`],
                ...(there.angle_deg > 0.05
                  ? ([
                      ['Raise the narrow end', `${there.shim_mm.toFixed(1)} mm`],
                      ['Spirit level on it', `${there.level_mm_per_m.toFixed(0)} mm/m`],
                      ['Angle', `${there.angle_deg.toFixed(2)}°`],
                    ] as [string, string][])
                  : []),
              ]}
            />
          </div>
        </>
      ) : (
        placing.round?.head && (
          <FigureField
            label="Focus below the ridge"
            name="focus_below_mm"
            placeholder={placing.round.head.focus_below_mm.toFixed(1)}
            value={edit.spec.focus_below_mm ?? null}
            set={(focus_below_mm) => edit.change({ focus_below_mm })}
          />
        )
      )}
    </Card>
  )
}
