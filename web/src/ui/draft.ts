type Facts = Record<string, unknown>

/** What two sides made of one thing: all that only one of them changed, and where both did (paths, outermost first). */
type Merged<T> = { value: T; clashes: string[][] }

const isFacts = (found: unknown): found is Facts =>
  typeof found === 'object' && found !== null && !Array.isArray(found)

export const isSame = (one: unknown, other: unknown): boolean => {
  if (isFacts(one) && isFacts(other))
    return [...new Set([...Object.keys(one), ...Object.keys(other)])].every((name) =>
      isSame(one[name], other[name]),
    )
  return JSON.stringify(one) === JSON.stringify(other)
}

/** What was changed here since `base`, put upon what it became elsewhere. Where both changed a field, `mine` stands. */
export function merged<T>(base: T, theirs: T, mine: T): Merged<T> {
  const clashes: string[][] = []
  const value = mergedAt(base, theirs, mine, [], clashes) as T
  return { value, clashes }
}

function mergedAt(
  base: unknown,
  theirs: unknown,
  mine: unknown,
  path: string[],
  clashes: string[][],
): unknown {
  if (isSame(mine, base)) return theirs
  if (isSame(theirs, base) || isSame(theirs, mine)) return mine
  if (isFacts(base) && isFacts(theirs) && isFacts(mine)) {
    const names = [...new Set([...Object.keys(theirs), ...Object.keys(mine)])]
    return Object.fromEntries(
      names.map((name) => [name, mergedAt(base[name], theirs[name], mine[name], [...path, name], clashes)]),
    )
  }
  clashes.push(path)
  return mine
}

/** A value with that of another at some paths. */
export const takenOver = <T>(value: T, from: T, paths: string[][]): T =>
  paths.reduce((all, path) => replaced(all, from, path) as T, value)

function replaced(value: unknown, from: unknown, [name, ...rest]: string[]): unknown {
  if (name === undefined || !isFacts(value) || !isFacts(from)) return from
  return { ...value, [name]: replaced(value[name], from[name], rest) }
}

/** What lies at a path, in short. */
export function wordsAt(value: unknown, path: string[]): string {
  const found = path.reduce<unknown>((all, name) => (isFacts(all) ? all[name] : undefined), value)
  if (found === null || found === undefined || found === '') return 'nothing'
  return (typeof found === 'object' ? JSON.stringify(found) : String(found as string | number)).slice(0, 60)
}

/** A field as one says it: “placement, width mm”. */
export const nameOf = (path: string[]) => path.join(', ').replaceAll('_', ' ') || 'all of it'
