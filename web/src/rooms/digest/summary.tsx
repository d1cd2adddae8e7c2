import { useState } from "react"

import type { Digest, Quote } from "../../api/digest"
import { Choose } from "../../parts/choose"
import { pageName } from "../../parts/place"
import { t } from "../../words"
import { Edit } from "./edit"
import { type At, Line } from "./line"

// Summary is the sentences that say most, at three lengths.
export function Summary({ digest, collection, document, shown, onShow }: { digest: Digest } & At) {
  const [length, setLength] = useState("summary")
  const lines = (all: Quote[]) => (
    <ol className="space-y-2">
      {all.map((q, i) => (
        <li key={i}>
          <Line quote={q} shown={shown} onShow={onShow} after={q.id && <Edit collection={collection} document={document} line={q.id} text={q.text} />} />
        </li>
      ))}
    </ol>
  )
  if (digest.page.length === 0) return <p className="text-quiet">{t("No sentence of this document can be read by itself.")}</p>
  return (
    <>
      <div className="mb-4 flex flex-wrap items-center gap-x-4 gap-y-2">
        <Choose quiet label={t("Length")} value={length} onChange={setLength} of={[["summary", t("Five sentences")], ["page", t("One page")], ["chapters", t("By chapter")]]} />
        <p className="text-sm text-quiet">{t("In the document’s own words; nothing is worded anew.")}</p>
      </div>
      {length === "summary" && lines(digest.summary)}
      {length === "page" && lines(digest.page)}
      {length === "chapters" &&
        digest.chapters.map((c, i) => (
          <section key={i} className="mb-5">
            <h2 className="text-lg">
              {c.title} <span className="figures font-sans text-sm text-quiet">{pageName(c.page, c.label)}</span>
            </h2>
            <div className="mt-1">{lines(c.summary)}</div>
          </section>
        ))}
    </>
  )
}
