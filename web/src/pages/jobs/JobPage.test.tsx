// @vitest-environment happy-dom
import { keys } from '../../api/keys'
import { cleanup, screen, waitFor } from '@testing-library/react'
import { expect, test, vi } from 'vitest'
import { renderPage } from '../../testing/page'
import JobPage from './JobPage'

const job = (name: string) => ({
  id: 3,
  name,
  pieces: 4,
  shape: 'rectangle',
  width_mm: 90,
  height_mm: 60,
  process_label: 'frost glass',
  machine: 'Blue twelve',
  beam: 'blue diode, 450 nm',
  experiment_id: null,
  coat_put_on: false,
  layers: [],
  drying: { all_on: false, coats_on: 0, coats_planned: 2, ready: false, groups: [] },
  next: { chapter: 'coat', code: 'coat', title: 'Put on coat 1', detail: '', due_at: null },
})

test('the page scrolls to its chapter once, not whenever the job is read again', async () => {
  const scrolled = vi.fn(() => Promise.resolve())
  Element.prototype.scrollIntoView = scrolled
  let name = 'Bed labels'
  const { client } = renderPage(<JobPage />, {
    path: '/jobs/:id/:chapter',
    at: '/jobs/3/nowhere-yet',
    answer: (address) => (address === '/api/jobs/3' ? job(name) : {}),
  })
  await screen.findByText('Bed labels')
  await waitFor(() => expect(scrolled).toHaveBeenCalledTimes(1))
  name = 'Bed labels, fern walk'
  await client.invalidateQueries({ queryKey: keys.job(3), exact: true })
  await screen.findByText('Bed labels, fern walk')
  expect(scrolled).toHaveBeenCalledTimes(1)
  cleanup()
})
