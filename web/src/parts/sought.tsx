import { type ReactNode, useState } from "react"
import { plural } from "../words"

// shownAtOnce are how many of a long list are shown; a search finds the others.
const shownAtOnce = 20

type Props<T> = { all: T[]; words: (one: T) => string; what: string; children: (shown: T[]) => ReactNode }

// Sought shows the beginning of a list and, where it is long, a field that looks for
// words in it.
export function Sought<T>({ all, words, what, children }: Props<T>) {
  const [sought, setSought] = useState("")
  const found = all.filter((one) => words(one).toLowerCase().includes(sought.trim().toLowerCase()))
  return (
    <>
      {all.length > shownAtOnce && (
        <label className="mt-4 block text-sm">
          {what}
          <input type="search" value={sought} onChange={(e) => setSought(e.target.value)} className="block w-72 rounded-md border border-quiet bg-sheet px-3 py-1.5" />
        </label>
      )}
      {children(found.slice(0, shownAtOnce))}
      {found.length > shownAtOnce && <p className="mt-2 text-sm text-quiet">{plural(found.length - shownAtOnce, "And {n} more.|And {n} more.")}</p>}
    </>
  )
}
