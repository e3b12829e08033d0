import { useSearchParams } from 'react-router'

/** What is looked for stands in the address, so that a link shows the same; nothing is the empty text. */
export function useChosen<Name extends string>(names: readonly Name[]) {
  const [address, setAddress] = useSearchParams()
  const wanted = Object.fromEntries(names.map((name) => [name, address.get(name) ?? ''])) as Record<
    Name,
    string
  >
  const choose = (changes: Partial<Record<Name, string>>, replace = true) =>
    setAddress(
      (now) => {
        for (const [name, value] of Object.entries<string | undefined>(changes)) {
          if (value) now.set(name, value)
          else now.delete(name)
        }
        return now
      },
      { replace },
    )
  return {
    wanted,
    choose,
    /** For a field of that name. */
    pick: (name: Name) => ({
      name,
      value: wanted[name],
      choose: (value: string) => choose({ [name]: value } as Partial<Record<Name, string>>),
    }),
    clear: () => setAddress({}, { replace: true }),
  }
}
