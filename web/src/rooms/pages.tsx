import { Link, useParams } from "react-router"

import { pictureOf } from "../api/client"
import { useDocuments } from "../api/queries"
import { Empty, Failure, Waiting } from "../parts/notice"
import { plural } from "../parts/place"

// Pages shows the documents by their first pages.
export function Pages() {
  const { collection = "" } = useParams()
  const documents = useDocuments(collection)
  const ready = documents.data?.filter((d) => d.state === "ready") ?? []
  return (
    <div>
      <h1 className="text-3xl">Pages</h1>
      <p className="mt-2 max-w-prose text-quiet">Look at what was read beside the real page.</p>
      {documents.isPending && <Waiting what="Looking up the documents…" />}
      {documents.isError && <Failure error={documents.error} />}
      {documents.data && ready.length === 0 && (
        <div className="mt-8">
          <Empty title="No document is ready yet">
            <Link to={`/c/${collection}/intake`} className="text-leaf underline">
              Put documents in
            </Link>
            , or wait until those on the way have been read.
          </Empty>
        </div>
      )}
      <ul className="mt-8 grid grid-cols-[repeat(auto-fill,minmax(11rem,1fr))] gap-x-6 gap-y-8">
        {ready.map((d) => (
          <li key={d.id}>
            <Link to={`/c/${collection}/pages/${encodeURIComponent(d.name)}/1`} className="group block">
              <span className="flex h-56 items-end">
                <img src={pictureOf(collection, d.id, 1, 40)} alt="" loading="lazy" className="max-h-full max-w-full border border-line bg-white shadow group-hover:shadow-lg" />
              </span>
              <span className="mt-3 block leading-snug group-hover:underline">{d.title || d.name}</span>
              <span className="figures block text-sm text-quiet">
                {d.name}, {plural(d.pages, "page")}
              </span>
            </Link>
          </li>
        ))}
      </ul>
    </div>
  )
}
