import type { Schema } from '../../api/client'

type Row = Schema<'BatchRowOut'>
type Kind = Schema<'TaskKind'>

/** What a task is called, what its button says, and where it leads. */
export interface TaskWords {
  title: string
  press: string
  seen: Row['state']
  to: Row['state']
}

const OF: Record<Exclude<Kind, 'look' | 'close'>, TaskWords> = {
  place: { title: 'Lay it in its place', press: 'It lies in place', seen: 'waiting', to: 'placed' },
  frame: {
    title: 'Frame it twice, beam off',
    press: 'The frame stays on the coat',
    seen: 'placed',
    to: 'framed',
  },
  burn: { title: 'Start the laser', press: 'It burns', seen: 'framed', to: 'burning' },
  watch: { title: 'Stay with it', press: 'It is done', seen: 'burning', to: 'cooling' },
  cool: { title: 'Let it cool', press: 'Washed all the same', seen: 'cooling', to: 'washed' },
  wash: { title: 'Wash it', press: 'Washed and dry', seen: 'cooling', to: 'washed' },
}

export const wordsOf = (kind: Exclude<Kind, 'look' | 'close'>) => OF[kind]

/** Pieces as people say them: “3, Fern”; “1 to 10”. */
export function namesOf(rows: Row[]): string {
  const [one] = rows
  if (!one) return ''
  if (rows.length === 1) return one.name ? `${one.number} ${one.name}` : `Piece ${one.number}`
  const numbers = rows.map((row) => row.number)
  const [low, high] = [Math.min(...numbers), Math.max(...numbers)]
  return high - low + 1 === rows.length ? `Pieces ${low} to ${high}` : `Pieces ${numbers.join(', ')}`
}

const MEANWHILE: Record<Kind, string> = {
  place: 'Lay',
  frame: 'Frame',
  burn: 'Start',
  watch: 'Watch',
  cool: 'Wash',
  wash: 'Wash',
  look: 'Look at',
  close: 'Close',
}

/** What else may be done now, in short. */
export function meanwhile(kind: Kind, rows: Row[]): string {
  const names = namesOf(rows)
  return `${MEANWHILE[kind]} ${names.replace(/^Piece/, 'piece')}`
}

/** A lost piece, in whose place nothing was burned anew. */
export const isLost = (row: Row) =>
  row.newest && (row.state === 'stopped' || (row.state === 'looked' && row.rating !== 'clean'))
