import { Check, CircleAlert, FileUp, Trash2 } from "lucide-react"
import { Progress } from "radix-ui"
import { type DragEvent, useRef, useState } from "react"
import { Link, useParams } from "react-router"

import type { Document } from "../api/client"
import { useIntake } from "../api/intake"
import { useAddDocuments, useDocuments, useEdits, useRemoveDocument } from "../api/queries"
import { Button } from "../parts/button"
import { Confirm } from "../parts/confirm"
import { Empty, Failure } from "../parts/notice"
import { plural } from "../parts/place"
import { Bin } from "./bin"
import { Tags } from "./tags"

export function Intake() {
  const { collection = "" } = useParams()
  useIntake(collection)
  const documents = useDocuments(collection)
  const edits = useEdits(collection)
  const all = documents.data ?? []
  const failed = all.filter((d) => d.state === "failed")
  const under = all.filter((d) => d.state === "queued" || d.state === "reading" || d.state === "indexing")
  const ready = all.filter((d) => d.state === "ready")
  return (
    <div className="max-w-5xl">
      <h1 className="text-3xl">Intake</h1>
      {edits && <DropPlace collection={collection} />}
      {documents.isError && <Failure error={documents.error} />}
      {documents.data?.length === 0 && (
        <div className="mt-8">
          <Empty title="Nothing here yet">{edits ? "Drop documents above, as many as you like in one go." : "An editor of this collection can add documents."}</Empty>
        </div>
      )}
      {under.length > 0 && <Overall under={under} all={all} />}
      <List title="On the way in" documents={under} collection={collection} />
      <List title="Could not be taken in" documents={failed} collection={collection} />
      <List title="Ready" documents={ready} collection={collection} />
      {edits && <Bin collection={collection} />}
    </div>
  )
}

function DropPlace({ collection }: { collection: string }) {
  const add = useAddDocuments(collection)
  const [over, setOver] = useState(false)
  const picker = useRef<HTMLInputElement>(null)
  const take = (files: FileList | null) => files && files.length > 0 && add.mutate([...files])
  const drop = (event: DragEvent) => {
    event.preventDefault()
    setOver(false)
    take(event.dataTransfer.files)
  }
  const again = add.data?.added.filter((a) => a.duplicate) ?? []
  return (
    <section
      aria-label="Add documents"
      onDragOver={(e) => {
        e.preventDefault()
        setOver(true)
      }}
      onDragLeave={() => setOver(false)}
      onDrop={drop}
      className={`mt-6 flex flex-wrap items-center gap-x-6 gap-y-3 rounded-lg border-2 border-dashed px-6 py-6 ${over ? "border-leaf bg-sheet" : "border-line"}`}
    >
      <FileUp aria-hidden className="size-8 text-leaf" strokeWidth={1.5} />
      <p className="min-w-0 flex-1 basis-96">
        Drop documents here, as many as you like.
        <span className="block text-sm text-quiet">
          PDF, Word, OpenDocument, presentations, workbooks, books, web pages, Markdown, text, CSV and e-mail. A file of the same name replaces the one that is here once it is ready.
        </span>
      </p>
      <input ref={picker} type="file" multiple accept=".pdf,.docx,.odt,.pptx,.xlsx,.ods,.epub,.html,.htm,.md,.txt,.csv,.tsv,.eml" className="sr-only" aria-label="Files" tabIndex={-1} onChange={(e) => take(e.target.files)} />
      <Button kind="main" disabled={add.isPending} onClick={() => picker.current?.click()}>
        {add.isPending ? "Sending…" : "Choose files"}
      </Button>
      {again.length > 0 && (
        <p role="status" className="w-full text-sm text-quiet">
          Here already: {again.map((a) => a.document.name).join(", ")}.
        </p>
      )}
      {add.data?.refused.map((r) => (
        <p key={r.name} role="status" className="w-full text-sm text-brick">
          {r.reason}
        </p>
      ))}
      {add.isError && (
        <div className="w-full">
          <Failure error={add.error} />
        </div>
      )}
    </section>
  )
}

function Overall({ under, all }: { under: Document[]; all: Document[] }) {
  const done = under.reduce((n, d) => n + d.pages_done, 0)
  const of = under.reduce((n, d) => n + d.pages, 0)
  return (
    <p role="status" className="figures mt-6 text-quiet">
      {plural(all.length - under.length, "document")} done, {under.length} to go; {done.toLocaleString("en")} of{" "}
      {plural(of, "page")} counted so far read.
    </p>
  )
}

function List({ title, documents, collection }: { title: string; documents: Document[]; collection: string }) {
  if (documents.length === 0) return null
  return (
    <section className="mt-8">
      <h2 className="text-xl">
        {title} <span className="figures text-base text-quiet">{documents.length}</span>
      </h2>
      <ul className="mt-2 divide-y divide-line border-y border-line">
        {documents.map((d) => (
          <Row key={d.id} document={d} collection={collection} />
        ))}
      </ul>
    </section>
  )
}

function Row({ document: d, collection }: { document: Document; collection: string }) {
  const remove = useRemoveDocument(collection)
  const edits = useEdits(collection)
  return (
    <li className="grid grid-cols-[1.5rem_1fr_auto_2rem] items-start gap-x-3 py-2.5">
      <Mark state={d.state} />
      <div className="min-w-0">
        {d.state === "ready" ? (
          <Link to={`/c/${collection}/pages/${encodeURIComponent(d.name)}/1`} className="hover:underline">
            {d.name}
          </Link>
        ) : (
          <span>{d.name}</span>
        )}
        {d.title && <span className="ml-3 text-quiet">{d.title}</span>}
        <Tags document={d} collection={collection} />
        {d.reason && <p className="text-brick">{d.reason}</p>}
        {d.warning && <p className="text-ochre">{d.warning}</p>}
        {d.state === "reading" && <Bar done={d.pages_done} of={d.pages} label="pages read" />}
        {d.state === "ready" && d.encoded < d.passages && <Bar done={d.encoded} of={d.passages} label="passages found by their meaning" />}
      </div>
      <span className="figures text-sm text-quiet">{wordFor(d)}</span>
      {edits && (
        <Confirm
          trigger={
            <button type="button" aria-label={`Remove ${d.name}`} className="p-0.5 text-quiet hover:text-brick">
              <Trash2 aria-hidden className="size-4" />
            </button>
          }
          title={`Remove ${d.name}?`}
          text="No answer will come from it any more, nor from its earlier versions. For a week it can be put back."
          action="Remove"
          onConfirm={() => remove.mutate(d.id)}
        />
      )}
    </li>
  )
}

function Mark({ state }: { state: Document["state"] }) {
  if (state === "ready") return <Check aria-label="ready" className="mt-0.5 size-5 text-leaf" />
  if (state === "failed") return <CircleAlert aria-label="failed" className="mt-0.5 size-5 text-brick" />
  return <span aria-hidden className={`mx-1 mt-2 size-2.5 rounded-full ${state === "queued" ? "border border-quiet" : "bg-ochre"}`} />
}

function wordFor(d: Document): string {
  switch (d.state) {
    case "queued":
      return "queued"
    case "reading":
      return d.pages ? `reading, ${d.pages_done} of ${plural(d.pages, "page")}` : "opening"
    case "indexing":
      return "indexing"
    case "ready":
      return d.encoded < d.passages
        ? `found by its words; meaning ${d.encoded} of ${plural(d.passages, "passage")}`
        : `${plural(d.pages, "page")}, ${plural(d.passages, "passage")}`
    default:
      return ""
  }
}

function Bar({ done, of, label }: { done: number; of: number; label: string }) {
  const share = of ? (100 * done) / of : 0
  return (
    <Progress.Root value={done} max={Math.max(of, 1)} aria-label={label} className="mt-1.5 h-1.5 max-w-md overflow-hidden rounded-full bg-line">
      <Progress.Indicator className="h-full rounded-full bg-leaf transition-[width]" style={{ width: `${share}%` }} />
    </Progress.Root>
  )
}
