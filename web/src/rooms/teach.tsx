import { type FormEvent, useState } from "react"

import type { Asked, Schemas } from "../api/client"
import { useDocuments, useTeach } from "../api/queries"
import { Button } from "../parts/button"
import { Failure } from "../parts/notice"

type Props = { collection: string; asked: Asked; nearest: Schemas["Nearest"][] }

// Teach lets somebody show where the answer to a question stands, so that the
// question, and others like it, are answered from there.
export function Teach(props: Props) {
  const [open, setOpen] = useState(false)
  return (
    <details className="mt-2 text-sm" onToggle={(e) => setOpen(e.currentTarget.open)}>
      <summary className="w-fit cursor-pointer text-quiet hover:text-ink">Show where the answer stands</summary>
      {open && <Where {...props} />}
    </details>
  )
}

function Where({ collection, asked, nearest }: Props) {
  const teach = useTeach(collection)
  const show = (evidence: Schemas["Evidence"]) => teach.mutate([{ question: asked.question, after: asked.after, evidence: [evidence] }])
  return (
    <div className="mt-3 max-w-prose space-y-4 border-l-2 border-line pl-4">
      {nearest.length > 0 && <p className="text-quiet">Click the words that answer it, or say below where they stand.</p>}
      {nearest.map((n, i) => (
        <div key={i}>
          <p className="figures text-quiet">
            {n.document}, page {n.page}
          </p>
          <ul>
            {n.sentences.map((s, k) => (
              <li key={k}>
                <button type="button" disabled={teach.isPending} onClick={() => show({ document: n.document, page: s.page, quote: s.text })} className="rounded px-1 py-0.5 text-left hover:bg-ochre-wash">
                  {s.text}
                </button>
              </li>
            ))}
          </ul>
        </div>
      ))}
      <Elsewhere collection={collection} busy={teach.isPending} onShow={show} />
      {teach.isError && <Failure error={teach.error} />}
    </div>
  )
}

const field = "block rounded-md border border-quiet bg-sheet px-2 py-1"

function Elsewhere({ collection, busy, onShow }: { collection: string; busy: boolean; onShow: (at: Schemas["Evidence"]) => void }) {
  const documents = (useDocuments(collection).data ?? []).filter((d) => d.state === "ready")
  const [document, setDocument] = useState("")
  const [page, setPage] = useState(1)
  const [quote, setQuote] = useState("")
  const submit = (event: FormEvent) => {
    event.preventDefault()
    onShow({ document: document || documents[0]?.name, page, quote: quote.trim() })
  }
  return (
    <form onSubmit={submit} className="flex flex-wrap items-end gap-3">
      <label>
        Document
        <select value={document} onChange={(e) => setDocument(e.target.value)} className={`${field} w-56`}>
          {documents.map((d) => (
            <option key={d.id}>{d.name}</option>
          ))}
        </select>
      </label>
      <label>
        Page
        <input type="number" min={1} value={page} onChange={(e) => setPage(Number(e.target.value))} className={`${field} w-20`} />
      </label>
      <label className="grow">
        Words on that page that answer
        <input value={quote} onChange={(e) => setQuote(e.target.value)} className={`${field} w-full`} />
      </label>
      <Button type="submit" disabled={busy || !quote.trim()}>
        Teach
      </Button>
    </form>
  )
}
