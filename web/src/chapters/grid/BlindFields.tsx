import type { UseFormRegister } from 'react-hook-form'
import type { Schema } from '../../api/client'
import { TextField } from '../../ui/form'
import { figure, inUnit, toBase, useUnits } from '../../ui/units'

/** Ends and steps of a blind rectangle as typed; what is left empty is the machine's own reach, in nine steps. */
export interface BlindTyped {
  power_from: string
  power_to: string
  power_steps: string
  speed_from: string
  speed_to: string
  speed_steps: string
}

export const AS_FAR_AS_IT_GOES: BlindTyped = {
  power_from: '',
  power_to: '',
  power_steps: '',
  speed_from: '',
  speed_to: '',
  speed_steps: '',
}

type Reach = Pick<Schema<'MachineOut'>, 'min_power_pct' | 'min_speed_mm_s' | 'max_speed_mm_s'>
type SpeedUnit = ReturnType<typeof useUnits>['speed']

const USUAL_STEPS = 9

/** What is asked for, in mm/s; null leaves all of it to the machine's reach. */
export function blindWish(
  typed: BlindTyped,
  reach: Reach | undefined,
  unit: SpeedUnit,
): Schema<'BlindIn'> | null {
  if (!reach || Object.values(typed).every((text: string) => !text.trim())) return null
  const or = (text: string, usual: number) => (text.trim() ? Number(text) : usual)
  const speed = (text: string, usual: number) => (text.trim() ? toBase(Number(text), unit) : usual)
  return {
    power_from: or(typed.power_from, reach.min_power_pct),
    power_to: or(typed.power_to, 100),
    power_steps: or(typed.power_steps, USUAL_STEPS),
    speed_from: speed(typed.speed_from, reach.min_speed_mm_s),
    speed_to: speed(typed.speed_to, reach.max_speed_mm_s),
    speed_steps: or(typed.speed_steps, USUAL_STEPS),
  }
}

/** From, to and steps of power and of speed. */
export function BlindFields<T extends BlindTyped>({
  register,
  reach,
}: {
  register: UseFormRegister<T>
  reach: Reach | undefined
}) {
  const { speed } = useUnits()
  const named = register as unknown as UseFormRegister<BlindTyped>
  const shown = (v: number | undefined) => (v === undefined ? '' : figure(inUnit(v, speed), speed.decimals))
  return (
    <div className="grid grid-cols-3 gap-3">
      <TextField
        label="Power from"
        inputMode="decimal"
        placeholder={reach ? String(reach.min_power_pct) : ''}
        {...named('power_from')}
      />
      <TextField label="to" unit="%" inputMode="decimal" placeholder="100" {...named('power_to')} />
      <TextField
        label="Steps"
        inputMode="numeric"
        placeholder={String(USUAL_STEPS)}
        {...named('power_steps')}
      />
      <TextField
        label="Speed from"
        inputMode="decimal"
        placeholder={shown(reach?.min_speed_mm_s)}
        {...named('speed_from')}
      />
      <TextField
        label="to"
        unit={speed.label}
        inputMode="decimal"
        placeholder={shown(reach?.max_speed_mm_s)}
        {...named('speed_to')}
      />
      <TextField
        label="Steps"
        inputMode="numeric"
        placeholder={String(USUAL_STEPS)}
        {...named('speed_steps')}
      />
    </div>
  )
}
