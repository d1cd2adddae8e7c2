import { useState } from "react"
import { Link } from "react-router"

import type { Digest } from "../../api/digest"
import { field } from "../../parts/field"
import { pageAt } from "../../parts/place"
import { t } from "../../words"
import { Edit } from "./edit"
import { type At, Line } from "./line"

// Outline is the chapters with their pages, and under each of the first levels what it is about.
export function Outline({ digest, collection, document, shown, onShow }: { digest: Digest } & At) {
  const [words, setWords] = useState("")
  const sought = words.trim().toLowerCase()
  const entries = digest.outline.filter((h) => h.title.toLowerCase().includes(sought))
  if (digest.outline.length === 0) return <p className="text-quiet">{t("No headings were found in this document.")}</p>
  return (
    <>
      {digest.outline.length > 12 && <input type="search" aria-label={t("Find a heading")} placeholder={t("Find a heading")} value={words} onChange={(e) => setWords(e.target.value)} className={`${field} mb-3 w-72 max-w-full`} />}
      <ol className="space-y-1">
        {entries.map((h, i) => (
          <li key={i} style={{ paddingLeft: `${(h.level - 1) * 1.25}rem` }}>
            <Link to={pageAt(collection, document, h.page)} className={`flex justify-between gap-4 rounded px-2 py-0.5 hover:bg-ochre-wash ${h.level === 1 ? "font-serif text-lg" : ""}`}>
              <span className="min-w-0 break-words">{h.title}</span>
              <span className="figures text-quiet">{h.label || h.page}</span>
            </Link>
            {h.about && h.level === 1 && (
              <div className="text-sm text-quiet">
                <Line quote={h.about} shown={shown} onShow={onShow} after={h.about.id && <Edit collection={collection} document={document} line={h.about.id} text={h.about.text} />} />
              </div>
            )}
          </li>
        ))}
      </ol>
    </>
  )
}
