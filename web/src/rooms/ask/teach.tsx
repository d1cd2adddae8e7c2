import { type FormEvent, useState } from "react"

import type { Answer, Schemas } from "../../api/client"
import { useDocuments } from "../../api/queries"
import { Button } from "../../parts/button"
import { Choose } from "../../parts/choose"
import { t } from "../../words"

// Shows is told where an answer stands.
export type Shows = (at: Schemas["Evidence"]) => void

const field = "block rounded-md border border-quiet bg-sheet px-2 py-1"

// Teach asks where the answer to a question stands, so that the question, and others
// like it, are answered from there. It begins with the place that is shown.
export function Teach({ collection, answer, busy, onShow }: { collection: string; answer: Answer; busy: boolean; onShow: Shows }) {
  const at = answer.nearest[0] ?? answer.citations[0]
  const documents = (useDocuments(collection).data ?? []).filter((d) => d.state === "ready")
  const [document, setDocument] = useState(at?.document ?? "")
  const [page, setPage] = useState(at?.page ?? 1)
  const [quote, setQuote] = useState("")
  const submit = (event: FormEvent) => {
    event.preventDefault()
    onShow({ document: document || documents[0]?.name, page, quote: quote.trim() })
  }
  return (
    <form onSubmit={submit} className="mt-3 flex max-w-prose flex-wrap items-end gap-3 text-sm">
      {answer.nearest.length > 0 && <p className="w-full text-quiet">{t("Click the words above that answer it, or say where they stand.")}</p>}
      <Choose label={t("Document")} value={document || (documents[0]?.name ?? "")} onChange={setDocument} className="w-56" of={documents.map((d) => [d.name, d.name])} />
      <label>
        {t("Page")}
        <input type="number" min={1} value={page} onChange={(e) => setPage(Number(e.target.value))} className={`${field} w-20`} />
      </label>
      <label className="grow">
        {t("Words on that page that answer")}
        <input value={quote} onChange={(e) => setQuote(e.target.value)} className={`${field} w-full`} />
      </label>
      <Button type="submit" disabled={busy || !quote.trim()}>
        {t("Teach")}
      </Button>
    </form>
  )
}

// Sentences are those of a passage, of which one that answers can be clicked.
export function Sentences({ of, onShow }: { of: Schemas["Nearest"]; onShow: Shows }) {
  return (
    <ul className="max-w-prose">
      {of.sentences.map((s, i) => (
        <li key={i}>
          <button type="button" onClick={() => onShow({ document: of.document, page: s.page, quote: s.text })} className="-mx-1 rounded px-1 py-0.5 text-left hover:bg-ochre-wash">
            {s.text}
          </button>
        </li>
      ))}
    </ul>
  )
}
