import { useState } from "react"
import { Link, useParams } from "react-router"

import { pictureOf } from "../../api/client"
import { useDocuments } from "../../api/queries"
import { field } from "../../parts/field"
import { Empty, Failure, Waiting } from "../../parts/notice"
import { plural, t } from "../../words"
import { SummedUp } from "./summed-up"
import { Worst } from "./worst"

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
      {shown.length > 0 && <SummedUp collection={collection} documents={shown.length < ready.length ? shown.map((d) => d.name) : []} />}
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
