// @vitest-environment happy-dom
import { act, cleanup, render, screen } from '@testing-library/react'
import { lazy, Suspense, useState } from 'react'
import { BrowserRouter, Link, Route, Routes } from 'react-router'
import { afterEach, expect, test } from 'vitest'
import { Onward } from './Onward'

afterEach(cleanup)

const Window = lazy(() => new Promise<{ default: () => React.ReactNode }>(() => undefined))

function Coat() {
  const [planned, setPlanned] = useState(false)
  return (
    <>
      <Link to="/window">Window</Link>
      <button onClick={() => setPlanned(true)}>The plan has come</button>
      {planned && <Onward to="/coat/mix" />}
    </>
  )
}

function open() {
  window.history.replaceState(null, '', '/coat')
  render(
    <BrowserRouter>
      <Suspense>
        <Routes>
          <Route path="/coat" element={<Coat />} />
          <Route path="/coat/mix" element="Mixing" />
          <Route path="/window" element={<Window />} />
        </Routes>
      </Suspense>
    </BrowserRouter>,
  )
}

const press = (words: string) => act(async () => Promise.resolve(screen.getByText(words).click()))

test('a page goes on to its first step', async () => {
  open()
  await press('The plan has come')
  expect(screen.getByText('Mixing')).toBeTruthy()
})

test('a page that was left calls nobody back while the next one is on its way', async () => {
  open()
  await press('Window')
  await press('The plan has come')
  expect(window.location.pathname).toBe('/window')
})
