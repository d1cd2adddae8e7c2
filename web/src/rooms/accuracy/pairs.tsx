import { useState } from "react"
import { Link } from "react-router"

import { useMeasurement } from "../../api/accuracy"
import type { Record, Schemas } from "../../api/client"
import { PagePicture } from "../../parts/page-picture"
import { t } from "../../words"

type Pair = Schemas["Pair"]

// Pairs are questions whose outcome changed; each opens to both answers and both pages.
export function Pairs({ title, pairs, collection, before, after }: { title: string; pairs: Pair[]; collection: string; before: string; after: string }) {
  const [open, setOpen] = useState("")
  if (pairs.length === 0) return null
  return (
    <section className="mt-8">
      <h2 className="text-xl">
        {title} <span className="figures text-quiet">{pairs.length}</span>
      </h2>
      <ul className="mt-2 divide-y divide-line border-y border-line">
        {pairs.map((p) => (
          <li key={p.id} className="py-2">
            <button type="button" aria-expanded={open === p.id} onClick={() => setOpen(open === p.id ? "" : p.id)} className="w-full text-left hover:text-leaf">
              {p.question}
              <span className="ml-3 text-sm text-quiet">
                {p.a.outcome} → {p.b.outcome}
                {(p.b.cause ?? p.a.cause) && ` (${p.b.cause ?? p.a.cause})`}
              </span>
            </button>
            {open === p.id && (
              <div className="mt-3 grid gap-6 md:grid-cols-2">
                <Half title={t("Before")} side={p.a} measurement={before} id={p.id} collection={collection} />
                <Half title={t("After")} side={p.b} measurement={after} id={p.id} collection={collection} />
              </div>
            )}
          </li>
        ))}
      </ul>
    </section>
  )
}

function Half({ title, side, measurement, id, collection }: { title: string; side: Schemas["Side"]; measurement: string; id: string; collection: string }) {
  const record: Record | undefined = useMeasurement(measurement).data?.records?.find((r) => r.id === id)
  const cite = record?.citations?.[0]
  return (
    <div>
      <h3 className="text-sm text-quiet">
        {title}: {side.outcome}
        {side.outcome !== "refused" && t(", with a confidence of {confidence}", { confidence: side.confidence.toFixed(2) })}
      </h3>
      <p className="mt-1 whitespace-pre-line">{side.answer.trim() || t("The documents do not say.")}</p>
      {cite && (
        <>
          <p className="mt-2 text-sm">
            <Link to={`/c/${collection}/pages/${encodeURIComponent(cite.document)}/${cite.page}`} className="text-leaf underline underline-offset-4">
              {t("{document}, page {page}", { document: cite.document, page: cite.page })}
            </Link>
          </p>
          <div className="mt-2 max-w-sm">
            <PagePicture collection={collection} document={cite.document_id} number={cite.page} marks={cite.boxes} />
          </div>
        </>
      )}
    </div>
  )
}
