import { ArrowRight } from "lucide-react"
import { type FormEvent, useEffect, useRef, useState } from "react"
import { Link } from "react-router"

import { useCollection } from "../../api/queries"
import { Button } from "../../parts/button"
import { useDraft } from "../../parts/draft"
import { useKeys } from "../../parts/keys"
import { plural, t } from "../../words"

type Props = { collection: string; follows: boolean; unsent: string; busy: boolean; onAsk: (question: string, afresh: boolean) => void }

// Question is the field for one. What is typed in it survives leaving the page.
export function Question({ collection, follows, unsent, busy, onAsk }: Props) {
  const [text, type] = useDraft(`question ${collection}`, unsent)
  const [afresh, setAfresh] = useState(false)
  const field = useRef<HTMLInputElement>(null)
  const size = useCollection(collection)
  const ready = size?.documents.ready ?? 0
  useEffect(() => field.current?.focus(), [])
  useKeys([{ key: "/", does: t("Write a question"), run: () => field.current?.focus() }])
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
        <label htmlFor="question">{follows ? t("Ask a follow-up") : t("What would you like to know?")}</label>
      </h1>
      {!follows && size?.description && <p className="mt-1">{size.description}</p>}
      {!follows && size && (
        <p className="figures mt-1 text-quiet">
          {t("Answered from {documents}, {pages}.", { documents: plural(ready, "{n} document|{n} documents"), pages: plural(size.pages, "{n} page|{n} pages") })}
          {ready === 0 && (
            <Link to={`/c/${collection}/intake`} className="ml-2 text-leaf underline">
              {t("Add documents first.")}
            </Link>
          )}
        </p>
      )}
      <div className="mt-3 flex gap-2 rounded-lg border border-quiet bg-sheet p-1.5 focus-within:border-leaf">
        <input id="question" ref={field} value={text} onChange={(e) => type(e.target.value)} maxLength={2000} autoComplete="off" className="min-w-0 grow bg-transparent px-2.5 py-1.5 text-lg outline-none" />
        <Button kind="main" type="submit" disabled={!text.trim() || busy}>
          {t("Ask")} <ArrowRight aria-hidden className="size-4" />
        </Button>
      </div>
      {follows && (
        <p className="mt-2 flex flex-wrap items-center gap-x-6 text-sm text-quiet">
          <label className="flex items-center gap-2">
            <input type="checkbox" checked={afresh} onChange={(e) => setAfresh(e.target.checked)} className="accent-leaf" />
            {t("A new subject: forget what was asked before")}
          </label>
          <Link to={`/c/${collection}/ask`} className="text-leaf underline">
            {t("Conversations")}
          </Link>
        </p>
      )}
    </form>
  )
}
