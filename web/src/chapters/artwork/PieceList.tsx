export type ListedPiece = { key: string | number; name: string; below?: string; aside?: string }

/** The pieces of artwork that has several, to choose which is seen. */
export function PieceList({
  pieces,
  piece,
  see,
}: {
  pieces: ListedPiece[]
  piece: number
  see: (piece: number) => void
}) {
  return (
    <ol className="mt-2 max-h-72 overflow-y-auto rounded-lg border border-line" aria-label="Pieces">
      {pieces.map(({ key, name, below, aside }, n) => (
        <li key={key}>
          <button
            aria-current={n === piece}
            onClick={() => see(n)}
            className={`flex min-h-11 w-full items-baseline justify-between gap-2 px-3 py-1.5 text-left ${n === piece ? 'bg-frost-tint font-bold' : 'hover:bg-frost-tint'}`}
          >
            <span className="min-w-0 wrap-break-word">
              {n + 1}. {name}
              {below && <span className="block text-sm font-normal text-soft">{below}</span>}
            </span>
            {aside && <span className="shrink-0 text-sm font-normal text-soft">{aside}</span>}
          </button>
        </li>
      ))}
    </ol>
  )
}
