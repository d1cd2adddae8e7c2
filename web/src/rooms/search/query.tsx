import { type FormEvent, useState } from "react"

import { Button } from "../../parts/button"

type Props = { label: string; button: string; query: string; onSearch: (words: string) => void }

// Query is where one writes what is looked for.
export function Query({ label, button, query, onSearch }: Props) {
  const [words, setWords] = useState(query)
  const submit = (event: FormEvent) => {
    event.preventDefault()
    if (words.trim()) onSearch(words.trim())
  }
  return (
    <form onSubmit={submit} role="search" className="mt-4 flex max-w-3xl gap-2 rounded-lg border border-quiet bg-sheet p-1.5 focus-within:border-leaf">
      <input type="search" aria-label={label} value={words} maxLength={2000} onChange={(e) => setWords(e.target.value)} className="min-w-0 grow bg-transparent px-2.5 py-1.5 text-lg outline-none" />
      <Button kind="main" type="submit" disabled={!words.trim()}>
        {button}
      </Button>
    </form>
  )
}
