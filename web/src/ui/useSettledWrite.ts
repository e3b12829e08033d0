import type { UseMutationResult } from '@tanstack/react-query'
import { useEffect } from 'react'
import { useSettled } from './useSettled'

/** Writes what is wanted once it is at rest and differs from what is kept. */
export function useSettledWrite<T, Out>(
  wanted: T,
  kept: T,
  after_ms: number,
  { mutate, isPending, variables }: UseMutationResult<Out, Error, T>,
) {
  const settled = useSettled(wanted, after_ms)
  const words = JSON.stringify(kept)
  useEffect(() => {
    // One at a time; what was written, or refused, is not asked again unchanged, whenever its answer reaches the page.
    if (isPending || variables === settled) return
    if (JSON.stringify(settled) !== words) mutate(settled)
  }, [settled, words, mutate, isPending, variables])
}
