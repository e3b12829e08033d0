/** Our mark: a beam opening a dark coat on a pale piece. */
export function Mark() {
  return (
    <svg viewBox="0 0 40 40" className="size-10" role="img" aria-label="Keen Coat">
      <path d="M18 2h4v15h-4z" className="fill-ember" />
      <path d="M2 20h12l3 4h6l3-4h12v6H2z" className="fill-coat" />
      <path d="M2 26h36v10H2z" className="fill-glass stroke-ink" strokeWidth="2" />
    </svg>
  )
}
