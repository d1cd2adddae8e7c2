import { useEffect, useRef, useState } from "react"
import { Link, useParams } from "react-router"

import { pictureOf } from "../api/client"
import { useDocuments, useWorstPages } from "../api/queries"
import { field } from "../parts/field"
import { Findings } from "../parts/findings"
import { Empty, Failure, Waiting } from "../parts/notice"
import { pageName } from "../parts/place"
import { plural, t } from "../words"

// Pages shows the documents by their first pages.
export default function Pages() {
  const { collection = "" } = useParams()
  const documents = useDocuments(collection)
  const [words, setWords] = useState("")
  const ready = documents.data?.filter((d) => d.state === "ready") ?? []
  const shown = ready.filter((d) => `${d.name} ${d.title} ${d.tags.join(" ")}`.toLowerCase().includes(words.trim().toLowerCase()))
  return (
    <div>
      <h1 className="text-3xl">{t("Pages")}</h1>
      <p className="mt-2 max-w-prose text-quiet">{t("Look at what was read beside the real page.")}</p>
      {documents.isPending && <Waiting what={t("Looking up the documents…")} />}
      {documents.isError && <Failure error={documents.error} />}
      {documents.data && ready.length === 0 && (
        <div className="mt-8">
          <Empty title={t("No document is ready yet")}>
            <Link to={`/c/${collection}/intake`} className="text-leaf underline">
              {t("Add documents, or wait until those on the way have been read.")}
            </Link>
          </Empty>
        </div>
      )}
      {ready.length > 8 && (
        <input type="search" aria-label={t("Find a document by name, title or tag")} placeholder={t("Find")} value={words} onChange={(e) => setWords(e.target.value)} className={`${field} mt-6 w-72 max-w-full`} />
      )}
      <ul className="mt-8 grid grid-cols-[repeat(auto-fill,minmax(9.5rem,1fr))] gap-x-6 gap-y-8">
        {shown.map((d) => (
          <li key={d.id} className="[contain-intrinsic-size:auto_20rem] [content-visibility:auto]">
            <Link to={`/c/${collection}/pages/${encodeURIComponent(d.name)}/1`} className="group block">
              <span className="flex h-56 items-end">
                <img src={pictureOf(collection, d.id, 1, 40)} alt="" loading="lazy" className="max-h-full max-w-full border border-line bg-white shadow group-hover:shadow-lg" />
              </span>
              <span className="mt-3 block leading-snug group-hover:underline">{d.title || d.name}</span>
              <span className="figures block text-sm text-quiet">
                {d.name}, {plural(d.pages, "{n} page|{n} pages")}
              </span>
              {d.doubtful > 0 && <span className="figures block text-sm text-ochre">{plural(d.doubtful, "{n} page to look at|{n} pages to look at")}</span>}
            </Link>
          </li>
        ))}
      </ul>
      {ready.length > 0 && <Worst collection={collection} />}
    </div>
  )
}

// Worst lists the pages that most should be looked at.
function Worst({ collection }: { collection: string }) {
  const worst = useWorstPages(collection, 25)
  const section = useRef<HTMLElement>(null)
  const there = worst.data !== undefined
  useEffect(() => {
    if (there && window.location.hash === "#worst") section.current?.scrollIntoView()
  }, [there])
  if (!worst.data || worst.data.of === 0) return null
  return (
    <section id="worst" ref={section} className="mt-14">
      <h2 className="text-2xl">{t("Pages to look at")}</h2>
      <p className="mt-2 max-w-prose text-quiet">{t("The worst first. A page has 100 points where nothing was found amiss.")}</p>
      <ol className="mt-6 divide-y divide-line">
        {worst.data.pages.map((p) => (
          <li key={`${p.document_id} ${p.number}`} className="grid grid-cols-[4.5rem_3rem_1fr] items-start gap-5 py-4">
            <img src={pictureOf(collection, p.document_id, p.number, 30)} alt="" loading="lazy" className="border border-line bg-white" />
            <span className={`figures text-2xl ${p.score < 60 ? "text-brick" : p.score < 90 ? "text-ochre" : "text-quiet"}`}>{p.score}</span>
            <div>
              <Link to={`/c/${collection}/pages/${encodeURIComponent(p.document)}/${p.number}`} className="text-leaf underline underline-offset-4">
                {p.document}, {pageName(p.number, p.label)}
              </Link>
              <div className="mt-2">
                <Findings findings={p.findings} />
              </div>
            </div>
          </li>
        ))}
      </ol>
      {worst.data.of > worst.data.pages.length && <p className="figures mt-4 text-quiet">{plural(worst.data.of - worst.data.pages.length, "{n} more page with findings.|{n} more pages with findings.")}</p>}
    </section>
  )
}
