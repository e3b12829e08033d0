import { useCatalogue, useSession } from '../api/hooks'
import type { Schema } from '../api/client'

export type Unit = Schema<'UnitOut'>

/** A base value (mm/s or mm) as a figure in a unit. The factors come from the server. */
export function inUnit(value: number, unit: Unit): number {
  return unit.reciprocal ? unit.per_base / value : value * unit.per_base
}

/** A figure in a unit back to the base unit (mm/s or mm). */
export function toBase(value: number, unit: Unit): number {
  return unit.reciprocal ? unit.per_base / value : value / unit.per_base
}

export function figure(value: number, decimals: number): string {
  return value.toFixed(decimals)
}

const PLAIN: Unit = { key: '', quantity: '', label: '', per_base: 1, reciprocal: false, decimals: 2 }

/** The units that the signed-in person reads, with ready formatters. */
export function useUnits() {
  const session = useSession().data
  const units = useCatalogue().data?.units ?? []
  const find = (key: string | undefined) => units.find((u) => u.key === key) ?? PLAIN
  const speed = find(session?.speed_unit)
  const interval = find(session?.interval_unit)
  const perInch = find('dpi').per_base
  return {
    speed,
    interval,
    showSpeed: (mm_s: number) => `${figure(inUnit(mm_s, speed), speed.decimals)} ${speed.label}`,
    /** A small length; in inches too for who reads speeds in them. */
    showSmall: (mm: number, decimals: number) =>
      `${mm.toFixed(decimals)} mm${speed.key === 'in_min' ? `, ${(mm / perInch).toFixed(3)} in` : ''}`,
    showInterval: (mm: number) => `${figure(inUnit(mm, interval), interval.decimals)} ${interval.label}`,
  }
}

export function showMinutes(minutes: number): string {
  if (minutes < 1) return `${Math.round(minutes * 60)} s`
  if (minutes < 100) return `${minutes < 10 ? minutes.toFixed(1) : Math.round(minutes)} min`
  return `${(minutes / 60).toFixed(1)} h`
}

export function showEnergy(j_mm2: number): string {
  return `${j_mm2 >= 10 ? j_mm2.toFixed(1) : j_mm2.toFixed(2)} J/mm²`
}

export function showJoules(j: number): string {
  return j >= 1000 ? `${(j / 1000).toFixed(1)} kJ` : `${j.toFixed(0)} J`
}

export function clock(iso: string): string {
  return new Date(iso).toLocaleTimeString([], { hour: '2-digit', minute: '2-digit', hourCycle: 'h23' })
}

export function dayAndClock(iso: string): string {
  const date = new Date(iso)
  const today = new Date().toDateString() === date.toDateString()
  return today
    ? clock(iso)
    : `${date.toLocaleDateString([], { day: 'numeric', month: 'short' })}, ${clock(iso)}`
}

/** A share as it is typed in per cent. */
export const typedPercent = (share: number | string) => String(Number((100 * Number(share)).toFixed(2)))

export const percent = (share: number) => `${Math.round(100 * share)} %`
