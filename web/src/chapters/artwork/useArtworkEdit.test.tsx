// @vitest-environment happy-dom
import { act, fireEvent, screen, waitFor } from '@testing-library/react'
import { useState } from 'react'
import { expect, test, vi } from 'vitest'
import { api } from '../../api/client'
import { renderPage } from '../../testing/page'
import { DraftQuestion } from '../../ui/DraftQuestion'
import { FigureField } from '../../ui/FigureField'
import { useArtworkEdit, type Artwork } from './useArtworkEdit'

const artwork = {
  id: 5,
  name: 'Fern',
  kind: 'picture',
  version: 3,
  spec: { placement: { width_mm: 40, x_mm: 0, y_mm: 0, quarter_turns: 0 }, tone: { gamma: 1 } },
} as unknown as Artwork

function Probe({ kept = artwork }: { kept?: Artwork }) {
  const edit = useArtworkEdit(1, kept)
  return (
    <>
      <DraftQuestion question={edit.question} />
      <p>gamma {edit.spec.tone.gamma}</p>
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

/** A page on which the server's next word arrives at a click; what is written is kept and answered. */
function twoTabs(theirs: Artwork) {
  const written: { spec: Artwork['spec']; version: number }[] = []
  function Page() {
    const [kept, hear] = useState(artwork)
    return (
      <>
        <button onClick={() => hear(theirs)}>Hear of it</button>
        <Probe kept={kept} />
      </>
    )
  }
  renderPage(<Page />, {
    answer: () => {
      throw new Error('unused')
    },
  })
  vi.spyOn(api, 'PUT').mockImplementation(((_: string, { body }: { body: (typeof written)[0] }) => {
    written.push(body)
    return Promise.resolve({ data: { ...artwork, ...body, version: body.version + 1 } })
  }) as never)
  return written
}

const elsewhere = (placement: object, tone: object) =>
  ({
    ...artwork,
    version: 4,
    spec: { placement: { ...artwork.spec.placement, ...placement }, tone: { ...artwork.spec.tone, ...tone } },
  }) as Artwork
const typeWidth = (value: string) => fireEvent.change(screen.getByLabelText(/Width/), { target: { value } })
const hear = () => fireEvent.click(screen.getByText('Hear of it'))
const rest = () => act(() => new Promise((done) => setTimeout(done, 500)))

test('an idle page takes another tab’s change over and writes nothing', async () => {
  const written = twoTabs(elsewhere({ width_mm: 55 }, { gamma: 2 }))
  hear()
  await rest()
  expect(screen.getByLabelText<HTMLInputElement>(/Width/).value).toBe('55')
  screen.getByText('gamma 2')
  expect(written).toEqual([])
})

test('changes of two tabs that do not meet are both kept', async () => {
  const written = twoTabs(elsewhere({}, { gamma: 2 }))
  typeWidth('45')
  hear()
  await rest()
  expect(written).toHaveLength(1)
  expect(written[0]).toMatchObject({ version: 4, spec: { placement: { width_mm: 45 }, tone: { gamma: 2 } } })
})

test.each([
  ['Keep what is here', '45', 1],
  ['Take what is elsewhere', '55', 0],
])('of one field two tabs changed, somebody chooses: %s', async (button, width, writes) => {
  const written = twoTabs(elsewhere({ width_mm: 55 }, {}))
  typeWidth('45')
  hear()
  await rest()
  expect(written).toEqual([])
  screen.getByText('placement, width mm')
  fireEvent.blur(screen.getByLabelText(/Width/))
  fireEvent.click(screen.getByText(button))
  await rest()
  expect(screen.getByLabelText<HTMLInputElement>(/Width/).value).toBe(width)
  expect(written).toHaveLength(writes)
})
