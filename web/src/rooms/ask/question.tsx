import { ArrowRight } from "lucide-react"
import { type FormEvent, useEffect, useRef, useState } from "react"
import { Link } from "react-router"

import { useCollection } from "../../api/queries"
import { Button } from "../../parts/button"

type Props = { collection: string; follows: boolean; unsent: string; busy: boolean; onAsk: (question: string, afresh: boolean) => void }

// Question is the field for one. What is typed in it survives leaving the page.
export function Question({ collection, follows, unsent, busy, onAsk }: Props) {
  const draft = `question ${collection}`
  const [text, setText] = useState(() => unsent || (sessionStorage.getItem(draft) ?? ""))
  const [afresh, setAfresh] = useState(false)
  const field = useRef<HTMLInputElement>(null)
  const size = useCollection(collection)
  useEffect(() => field.current?.focus(), [])
  const type = (words: string) => {
    setText(words)
    sessionStorage.setItem(draft, words)
  }
  const submit = (event: FormEvent) => {
    event.preventDefault()
    if (!text.trim() || busy) return
    onAsk(text.trim(), afresh)
    type("")
    setAfresh(false)
  }
  return (
    <form onSubmit={submit}>
      <h1 className={follows ? "text-lg" : "text-3xl"}>
        <label htmlFor="question">{follows ? "Ask a follow-up" : "What would you like to know?"}</label>
      </h1>
      {!follows && size && (
        <p className="figures mt-1 text-quiet">
          Answered from {size.documents.ready ?? 0} documents, {size.pages.toLocaleString("en")} pages.
          {(size.documents.ready ?? 0) === 0 && (
            <Link to={`/c/${collection}/intake`} className="ml-2 text-leaf underline">
              Add documents first.
            </Link>
          )}
        </p>
      )}
      <div className="mt-3 flex gap-2 rounded-lg border border-quiet bg-sheet p-1.5 focus-within:border-leaf">
        <input id="question" ref={field} value={text} onChange={(e) => type(e.target.value)} maxLength={2000} autoComplete="off" className="min-w-0 grow bg-transparent px-2.5 py-1.5 text-lg outline-none" />
        <Button kind="main" type="submit" disabled={!text.trim() || busy}>
          Ask <ArrowRight aria-hidden className="size-4" />
        </Button>
      </div>
      {follows && (
        <p className="mt-2 flex flex-wrap items-center gap-x-6 text-sm text-quiet">
          <label className="flex items-center gap-2">
            <input type="checkbox" checked={afresh} onChange={(e) => setAfresh(e.target.checked)} className="accent-leaf" />A new subject: forget what was asked before
          </label>
          <Link to={`/c/${collection}/ask`} className="text-leaf underline">
            Conversations
          </Link>
        </p>
      )}
    </form>
  )
}
