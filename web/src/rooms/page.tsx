import { ChevronLeft, ChevronRight } from "lucide-react"
import { useState } from "react"
import { Link, useParams } from "react-router"

import { fileOf } from "../api/client"
import { usePage } from "../api/queries"
import { Failure, Waiting } from "../parts/notice"
import { PagePicture } from "../parts/page-picture"

// PageRoom shows a page and, beside it, what was read from it block by block.
export function PageRoom() {
  const { collection = "", document = "", number = "1" } = useParams()
  const at = Number(number)
  const page = usePage(collection, document, at)
  const [picked, setPicked] = useState(-1)
  const blocks = page.data?.blocks ?? []
  const block = blocks[picked]
  return (
    <div>
      <div className="flex flex-wrap items-baseline gap-x-6 gap-y-1">
        <h1 className="text-2xl">{page.data?.title || document}</h1>
        <Turn collection={collection} document={document} at={at} of={page.data?.of ?? at} label={page.data?.label ?? ""} />
        <a href={fileOf(collection, document)} className="text-leaf underline underline-offset-4">
          The file
        </a>
      </div>
      {page.isPending && <Waiting what="Fetching the page…" />}
      {page.isError && <Failure error={page.error} />}
      {page.data && (
        <div className="mt-6 grid gap-8 lg:grid-cols-[minmax(0,11fr)_minmax(0,9fr)]">
          <PagePicture collection={collection} document={document} number={at} outlines={blocks.map((b) => b.box)} marks={block ? [block.box] : []} onPick={setPicked} />
          <section aria-label="What was read">
            {page.data.problem && <p className="text-brick">{page.data.problem}</p>}
            <ol className="space-y-1">
              {blocks.map((b, i) => (
                <li
                  key={i}
                  onMouseEnter={() => setPicked(i)}
                  className={`grid grid-cols-[6.5rem_1fr] gap-3 rounded px-2 py-1.5 ${i === picked ? "bg-ochre-wash" : ""}`}
                >
                  <span className="text-sm text-quiet">
                    {i + 1} {b.kind}
                    {b.level > 0 && ` ${b.level}`}
                  </span>
                  <span className={`whitespace-pre-line ${b.kind === "heading" ? "font-serif text-lg" : ""} ${b.kind === "furniture" || b.kind === "contents" ? "text-quiet" : ""}`}>
                    {b.text}
                  </span>
                </li>
              ))}
            </ol>
          </section>
        </div>
      )}
    </div>
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
