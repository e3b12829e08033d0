// @vitest-environment happy-dom
import { act, renderHook } from '@testing-library/react'
import { expect, test, vi } from 'vitest'
import { useSettled } from './useSettled'

test('what is typed settles once, a quarter of a second after the last key', () => {
  vi.useFakeTimers()
  const { result, rerender } = renderHook(({ lines }) => useSettled({ lines }), {
    initialProps: { lines: '0.1' },
  })
  for (const lines of ['0.12', '0.125']) {
    rerender({ lines })
    act(() => vi.advanceTimersByTime(200))
    expect(result.current).toEqual({ lines: '0.1' })
  }
  act(() => vi.advanceTimersByTime(60))
  expect(result.current).toEqual({ lines: '0.125' })
  vi.useRealTimers()
})
