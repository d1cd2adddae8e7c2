import { ChevronLeft, ChevronRight, Pencil } from "lucide-react"
import { useState } from "react"
import { Link, useParams } from "react-router"

import { exportOf, fileOf, type Corrections, type Page } from "../api/client"
import { useCorrect, useCorrections, useEdits, usePage } from "../api/queries"
import { Button } from "../parts/button"
import { Findings } from "../parts/findings"
import { kinds } from "../parts/kinds"
import { Failure, Waiting } from "../parts/notice"
import { PagePicture, type Outline } from "../parts/page-picture"
import { Correction } from "./correction"

// PageRoom shows a page and, beside it, what was read from it block by block.
export function PageRoom() {
  const { collection = "", document = "", number = "1" } = useParams()
  const at = Number(number)
  const page = usePage(collection, document, at)
  return (
    <div>
      <div className="flex flex-wrap items-baseline gap-x-6 gap-y-1">
        <h1 className="text-2xl">{page.data?.title || document}</h1>
        <Turn collection={collection} document={document} at={at} of={page.data?.of ?? at} label={page.data?.label ?? ""} />
        <a href={fileOf(collection, document)} className="text-leaf underline underline-offset-4">
          The file
        </a>
        <span>
          Export as{" "}
          {["markdown", "json", "text"].map((format) => (
            <a key={format} href={exportOf(collection, document, format)} className="mr-3 text-leaf underline underline-offset-4">
              {format}
            </a>
          ))}
        </span>
      </div>
      {page.isPending && <Waiting what="Fetching the page…" />}
      {page.isError && <Failure error={page.error} />}
      {page.data && <Reading key={`${document} ${at}`} collection={collection} page={page.data} />}
    </div>
  )
}

type View = "blocks" | "passages" | "nothing"

const passageInks = ["#3f7d3a", "#2f5d8a", "#8a3f6b", "#b07414"]

// outlinesOf draws blocks in their order, or the passages that they are cut into.
function outlinesOf(page: Page, view: View): Outline[] {
  if (view === "blocks") {
    return page.blocks.map((b, i) => ({ box: b.box, name: String(i + 1), ink: kinds[b.kind].ink, faint: b.kind === "furniture" }))
  }
  if (view === "passages") {
    return page.passages.flatMap((p) =>
      p.boxes.map((box, i) => ({ box, name: i === 0 ? `P${p.ordinal + 1}` : undefined, ink: passageInks[p.ordinal % passageInks.length] ?? "#000" })),
    )
  }
  return []
}

function Reading({ collection, page }: { collection: string; page: Page }) {
  const [pointed, setPointed] = useState(-1)
  const [edited, setEdited] = useState(-1)
  const [view, setView] = useState<View>("blocks")
  const corrections = useCorrections(collection, page.document, page.number)
  const correct = useCorrect(collection, page.document, page.number)
  const edits = useEdits(collection)
  const block = page.blocks[edited >= 0 ? edited : pointed]
  const save = (c: Corrections) => correct.mutate(c, { onSuccess: () => setEdited(-1) })
  const blocksShown = view === "blocks"
  return (
    <div className="mt-4 grid gap-8 lg:grid-cols-[minmax(0,11fr)_minmax(0,9fr)]">
      <div>
        <Views view={view} onView={setView} />
        <PagePicture
          collection={collection}
          document={page.document_id}
          number={page.number}
          outlines={outlinesOf(page, view)}
          marks={block ? [block.box] : []}
          onPick={blocksShown ? setEdited : undefined}
          onPoint={blocksShown ? setPointed : undefined}
        />
      </div>
      <section aria-label="What was read" className="space-y-4">
        <Findings findings={page.findings} />
        {correct.isError && <Failure error={correct.error} />}
        {edits && page.blocks.length === 0 && corrections.data && !corrections.data.recognise && (
          <Button onClick={() => save({ ...corrections.data, recognise: true })}>Read the text from the picture</Button>
        )}
        <ol className="space-y-1">
          {page.blocks.map((b, i) => (
            <li key={i} onMouseEnter={() => setPointed(i)}>
              <div className={`group grid grid-cols-[7.5rem_1fr_2rem] gap-3 rounded px-2 py-1.5 ${i === pointed || i === edited ? "bg-ochre-wash" : ""}`}>
                <span className="text-sm" style={{ borderLeft: `3px solid ${kinds[b.kind].ink}`, paddingLeft: "0.5rem" }}>
                  <span className="figures">{i + 1}</span> {kinds[b.kind].name.toLowerCase()}
                  {b.level > 0 && ` ${b.level}`}
                  {b.corrected && <span className="block text-ochre">corrected</span>}
                </span>
                <span className={`whitespace-pre-line ${b.kind === "heading" ? "font-serif text-lg" : ""} ${b.kind === "furniture" || b.kind === "contents" ? "text-quiet" : ""}`}>
                  {b.text}
                </span>
                {edits && (
                  <button type="button" aria-label={`Correct block ${i + 1}`} className="self-start rounded p-1 text-quiet hover:text-leaf" onClick={() => setEdited(i)}>
                    <Pencil aria-hidden className="size-4" />
                  </button>
                )}
              </div>
              {i === edited && corrections.data && (
                <Correction block={b} place={i + 1} of={page.blocks.length} corrections={corrections.data} busy={correct.isPending} onSave={save} onClose={() => setEdited(-1)} />
              )}
            </li>
          ))}
        </ol>
      </section>
    </div>
  )
}

function Views({ view, onView }: { view: View; onView: (v: View) => void }) {
  return (
    <fieldset className="mb-3 flex flex-wrap gap-4 text-sm">
      <legend className="sr-only">Drawn on the page</legend>
      {(["blocks", "passages", "nothing"] as const).map((v) => (
        <label key={v} className="inline-flex items-center gap-1.5">
          <input type="radio" name="view" checked={view === v} onChange={() => onView(v)} className="accent-leaf" />
          {{ blocks: "Blocks in reading order", passages: "Passages", nothing: "The page alone" }[v]}
        </label>
      ))}
    </fieldset>
  )
}

type TurnProps = { collection: string; document: string; at: number; of: number; label: string }

function Turn({ collection, document, at, of, label }: TurnProps) {
  const to = (n: number) => `/c/${collection}/pages/${encodeURIComponent(document)}/${n}`
  const look = "inline-flex rounded border border-line p-1 hover:border-quiet"
  return (
    <nav aria-label="Pages" className="figures flex items-center gap-3">
      {at > 1 && (
        <Link to={to(at - 1)} aria-label="Previous page" className={look}>
          <ChevronLeft aria-hidden className="size-4" />
        </Link>
      )}
      <span>
        Page {at} of {of}
        {label && label !== String(at) && <span className="text-quiet"> (printed {label})</span>}
      </span>
      {at < of && (
        <Link to={to(at + 1)} aria-label="Next page" className={look}>
          <ChevronRight aria-hidden className="size-4" />
        </Link>
      )}
    </nav>
  )
}
