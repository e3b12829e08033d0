// @vitest-environment happy-dom
import { fireEvent, screen, waitFor } from '@testing-library/react'
import { expect, test } from 'vitest'
import { renderPage } from '../../testing/page'
import { FigureField } from '../../ui/FigureField'
import { useArtworkEdit, type Artwork } from './useArtworkEdit'

const artwork = {
  id: 5,
  name: 'Fern',
  kind: 'picture',
  version: 3,
  spec: { placement: { width_mm: 40, x_mm: 0, y_mm: 0, quarter_turns: 0 }, tone: { gamma: 1 } },
} as unknown as Artwork

function Probe() {
  const edit = useArtworkEdit(1, artwork)
  return (
    <>
      <FigureField
        label="Width"
        name="width_mm"
        value={edit.spec.placement.width_mm}
        set={(width_mm) => edit.place({ width_mm })}
      />
      <p>{edit.error ? 'refused' : edit.isPending ? 'sending' : 'at rest'}</p>
    </>
  )
}

test('half-typed figures wait, and what is refused is asked once', async () => {
  const asked: string[] = []
  renderPage(<Probe />, {
    answer: (address) => {
      asked.push(address)
      throw new Error('refused')
    },
  })
  const width = screen.getByLabelText(/Width/)
  fireEvent.change(width, { target: { value: '' } })
  fireEvent.change(width, { target: { value: '4' } })
  fireEvent.change(width, { target: { value: '45' } })
  expect(asked).toEqual([])
  await screen.findByText('refused')
  expect(asked).toEqual(['/api/artworks/5'])
  await new Promise((done) => setTimeout(done, 600))
  expect(asked).toHaveLength(1)
  fireEvent.change(width, { target: { value: '46' } })
  await waitFor(() => expect(asked).toHaveLength(2))
})
