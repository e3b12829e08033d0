import { afterEach, beforeEach, expect, vi } from 'vitest'
import { answered } from './server'

vi.stubGlobal('fetch', answered)

/** What React complains of (a key that is missing, a state set after the end) fails the test that made it. */
beforeEach(() => {
  vi.spyOn(console, 'error').mockImplementation(() => undefined)
})
afterEach(() => {
  expect(vi.mocked(console.error).mock.calls).toEqual([])
  vi.restoreAllMocks()
})
