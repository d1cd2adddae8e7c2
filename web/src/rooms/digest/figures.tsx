import { useState } from "react"

import type { Schemas } from "../../api/client"
import type { Digest } from "../../api/digest"
import { Choose } from "../../parts/choose"
import { field } from "../../parts/field"
import { pageName } from "../../parts/place"
import { plural, t } from "../../words"
import { Edit } from "./edit"
import type { At } from "./line"

type Figure = Schemas["DigestFigure"]

const bounds = () => ({ "at most": t("at most"), below: t("below"), "at least": t("at least"), above: t("above"), about: t("about"), "": "" })

// Figures are the numbers of a document with what they are of.
export function Figures({ digest, collection, document, shown, onShow }: { digest: Digest } & At) {
  const [words, setWords] = useState("")
  const [which, setWhich] = useState("measures")
  if (digest.figures.length === 0) return <p className="text-quiet">{t("The document has no figures with a unit.")}</p>
  const sought = words.trim().toLowerCase()
  const all = digest.figures.filter((f) => (which === "all" || (which === "limits" ? f.bound !== "" && f.bound !== "about" : f.measure)) && `${f.words} ${f.of} ${f.quote.text}`.toLowerCase().includes(sought))
  return (
    <>
      <div className="mb-3 flex flex-wrap items-center gap-3">
        <Choose quiet label={t("Which figures")} value={which} onChange={setWhich} of={[["measures", t("Measures")], ["limits", t("Limits")], ["all", t("All, with counts")]]} />
        <input type="search" aria-label={t("Find a figure")} placeholder={t("Find")} value={words} onChange={(e) => setWords(e.target.value)} className={`${field} w-56 max-w-full`} />
        <span role="status" className="figures text-sm text-quiet">{plural(all.length, "{n} figure|{n} figures")}</span>
      </div>
      <ol className="divide-y divide-line">
        {all.map((f, i) => (
          <li key={i} className={`flex items-start gap-2 px-2 py-1.5 [contain-intrinsic-size:auto_2.5rem] [content-visibility:auto] ${shown === f.quote ? "bg-ochre-wash" : ""}`}>
            <button type="button" aria-pressed={shown === f.quote} onClick={() => onShow(f.quote)} className="group grid min-w-0 grow gap-x-4 text-left sm:grid-cols-[9rem_minmax(0,1fr)_auto]">
              <span className="figures font-semibold">{[bounds()[f.bound], valueOf(f)].join(" ").trim()}</span>
              <span className="min-w-0 break-words group-hover:underline">{f.of}</span>
              <span className="figures text-sm text-quiet">{pageName(f.quote.page, f.quote.label)}</span>
            </button>
            <Edit collection={collection} document={document} line={f.id} text={f.of} />
          </li>
        ))}
      </ol>
    </>
  )
}

// valueOf is a figure as it stands, with the unit where its column names it.
const valueOf = (f: Figure) => (f.words.includes(f.unit) || /[\p{L}%£€$°]/u.test(f.words) ? f.words : `${f.words} ${f.unit}`)
