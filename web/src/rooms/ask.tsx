import { ArrowRight } from "lucide-react"
import { type FormEvent, useEffect, useRef, useState } from "react"
import { Link, useParams, useSearchParams } from "react-router"

import type { Scope } from "../api/client"
import { useAnswer, useCollection, useCollections, useKeep } from "../api/queries"
import { Button } from "../parts/button"
import { PagePicture } from "../parts/page-picture"
import { pageName } from "../parts/place"
import { Entry, type Spot, spotOf } from "./entry"
import { Kept } from "./kept"
import { Where } from "./scope"

// Ask is a column of questions and answers, the newest on top, with the page
// that the chosen citation stands on beside it. The questions, and where to look,
// are in the address, so the conversation can be sent to somebody.
export function Ask() {
  const { collection = "" } = useParams()
  const [search, setSearch] = useSearchParams()
  const questions = search.getAll("q")
  const [picked, setPicked] = useState<{ from: string; spot: Spot }>()
  const scope = { tags: search.getAll("tag"), documents: search.getAll("document") }
  const last = questions.at(-1)
  const newest = useAnswer(collection, { question: last ?? "", after: questions.slice(0, -1), scope }, last !== undefined)
  const from = search.toString()
  const shown = picked?.from === from ? picked.spot : spotOf(newest.data)
  const kept = search.get("kept") ?? undefined
  const keep = useKeep(collection)
  const sharing = useCollection(collection)?.sharing
  const show = (all: string[], conversation?: string, within: Scope = scope) => {
    const next = new URLSearchParams(conversation && { kept: conversation })
    for (const tag of within.tags) next.append("tag", tag)
    for (const document of within.documents) next.append("document", document)
    for (const q of all) next.append("q", q)
    setSearch(next)
  }
  const ask = (question: string, afresh: boolean) => {
    if (kept && !afresh) keep.mutate({ questions: [question], scope, conversation: kept })
    show(afresh ? [question] : [...questions, question], afresh ? undefined : kept)
  }
  return (
    <div className={last ? "grid gap-10 lg:grid-cols-[minmax(0,10fr)_minmax(0,9fr)]" : "mx-auto max-w-2xl pt-[8vh]"}>
      <div>
        <Question collection={collection} follows={last !== undefined} onAsk={ask} />
        <p className="mt-2">
          <Where collection={collection} scope={scope} onChange={(within) => show(questions, kept, within)} />
        </p>
        {last && (
          <p className="mt-2 text-sm text-quiet">
            {sharing?.questions && "What is asked here is written into the audit. "}
            {sharing?.conversations && "Owners of this collection can read what is kept. "}
            {kept ? (
              "This conversation is kept."
            ) : (
              <button type="button" disabled={keep.isPending} onClick={() => keep.mutate({ questions, scope }, { onSuccess: (id) => show(questions, id) })} className="text-leaf underline">
                Keep this conversation
              </button>
            )}
            {keep.isError && <span className="ml-3 text-brick">It could not be kept: {keep.error.message}</span>}
          </p>
        )}
        <ol className="mt-8 space-y-10">
          {questions
            .map((q, i) => ({ q, after: questions.slice(0, i) }))
            .reverse()
            .map(({ q, after }) => (
              <Entry key={`${after.length} ${q}`} collection={collection} asked={{ question: q, after, scope }} shown={shown} onShow={(spot) => setPicked({ from, spot })} />
            ))}
        </ol>
        {!last && <Kept collection={collection} />}
      </div>
      {last && <Evidence collection={collection} spot={shown} />}
    </div>
  )
}

type QuestionProps = { collection: string; follows: boolean; onAsk: (question: string, afresh: boolean) => void }

function Question({ collection, follows, onAsk }: QuestionProps) {
  const [text, setText] = useState("")
  const [afresh, setAfresh] = useState(false)
  const field = useRef<HTMLInputElement>(null)
  const size = useCollections().data?.find((c) => c.name === collection)
  useEffect(() => field.current?.focus(), [])
  const submit = (event: FormEvent) => {
    event.preventDefault()
    if (!text.trim()) return
    onAsk(text.trim(), afresh)
    setText("")
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
        <input id="question" ref={field} value={text} onChange={(e) => setText(e.target.value)} maxLength={2000} autoComplete="off" className="min-w-0 grow bg-transparent px-2.5 py-1.5 text-lg outline-none" />
        <Button kind="main" type="submit" disabled={!text.trim()}>
          Ask <ArrowRight aria-hidden className="size-4" />
        </Button>
      </div>
      {follows && (
        <label className="mt-2 flex items-center gap-2 text-sm text-quiet">
          <input type="checkbox" checked={afresh} onChange={(e) => setAfresh(e.target.checked)} className="accent-leaf" />A new subject: forget what was asked before
        </label>
      )}
    </form>
  )
}

// Evidence shows the page of a citation, with the lines marked.
function Evidence({ collection, spot }: { collection: string; spot: Spot | undefined }) {
  if (!spot) return <div />
  const { document, document_id, title, page, label, boxes } = spot
  return (
    <aside aria-label="The cited page" className="flex flex-col lg:sticky lg:top-6 lg:max-h-[calc(100dvh-3rem)] lg:self-start">
      <p className="mb-3 leading-snug">
        <span className="font-medium">{title || document}</span>
        <span className="figures block text-sm text-quiet">
          {document}, {pageName(page, label)} ·{" "}
          <Link to={`/c/${collection}/pages/${encodeURIComponent(document)}/${page}`} className="text-leaf underline">
            what was read here
          </Link>
        </span>
      </p>
      <div data-scrolls tabIndex={0} role="region" aria-label="Picture of the page" className="min-h-0 overflow-y-auto">
        <PagePicture collection={collection} document={document_id} number={page} marks={boxes} />
      </div>
    </aside>
  )
}
