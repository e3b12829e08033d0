// @vitest-environment happy-dom
import { cleanup, render, screen } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { useState } from 'react'
import { afterEach, expect, test } from 'vitest'
import type { Schema } from '../api/client'
import { GridPicture } from './GridPicture'

afterEach(cleanup)

const cell = (code: string, row: number, column: number) => ({
  code,
  row,
  column,
  spare: 1,
  x_mm: 9 * column,
  y_mm: -9 * row,
  energy_j_mm2: 1 + row + column,
  grey_pct: 100,
  burned: 'full',
  rating: null,
})
const grid = {
  label: 'G1',
  cell_mm: 6,
  cells: [cell('A1', 0, 0), cell('A2', 0, 1), cell('B1', 1, 0), cell('B2', 1, 1)],
  sheets: [{ spare: 1, codes: [], samples: [], frame: null }],
} as unknown as Schema<'GridOut'>
const piece = { shape: 'rectangle', width_mm: 60, height_mm: 40, narrow_mm: 0, margin_mm: 3 } as const

function Chosen() {
  const [code, setCode] = useState('A1')
  return (
    <>
      <button>before</button>
      <GridPicture grid={grid} piece={piece} selected={code} select={setCode} />
      <p>chosen {code}</p>
    </>
  )
}

test('the cells are one stop, arrows walk, Enter and Space choose, and the page hears none of it', async () => {
  const heard: string[] = []
  const listen = (event: KeyboardEvent) => heard.push(event.key)
  window.addEventListener('keydown', listen)
  render(<Chosen />)
  const user = userEvent.setup()
  await user.tab()
  await user.tab()
  expect(document.activeElement?.getAttribute('data-code')).toBe('A1')
  await user.keyboard('{ArrowRight}{ArrowDown}')
  expect(screen.getByText('chosen B2')).toBeTruthy()
  expect(document.activeElement?.getAttribute('data-code')).toBe('B2')
  expect(screen.getByRole('option', { selected: true }).getAttribute('aria-label')).toBe('B2, not rated')
  await user.keyboard('{ArrowDown}{ArrowLeft}{Enter}')
  expect(screen.getByText('chosen B1')).toBeTruthy()
  expect(heard.filter((key) => key.startsWith('Arrow'))).toEqual([])
  expect(screen.getAllByRole('option').filter((o) => o.getAttribute('tabindex') === '0').length).toBe(1)
  await user.keyboard('1')
  expect(heard).toContain('1')
  window.removeEventListener('keydown', listen)
})

test('without a way to choose there is nothing to stop at', () => {
  render(<GridPicture grid={grid} piece={piece} />)
  expect(document.querySelector('[tabindex]')).toBeNull()
  expect(screen.queryByRole('listbox')).toBeNull()
})
