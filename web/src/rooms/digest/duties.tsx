import { useState } from "react"

import type { Schemas } from "../../api/client"
import type { Digest } from "../../api/digest"
import { Choose } from "../../parts/choose"
import { field } from "../../parts/field"
import { plural, t } from "../../words"
import { Edit } from "./edit"
import { type At, Line } from "./line"

type Force = Schemas["DigestDuty"]["force"]

const forces = (): Record<Force, string> => ({ must: t("must"), "must not": t("must not"), should: t("should"), may: t("may") })

const inks: Record<Force, string> = { must: "text-leaf", "must not": "text-brick", should: "text-ochre", may: "text-quiet" }

// Duties are what must, must not, should and may be done, as they are numbered in the text.
export function Duties({ digest, collection, document, shown, onShow }: { digest: Digest } & At) {
  const [force, setForce] = useState("")
  const [words, setWords] = useState("")
  if (digest.duties.length === 0) return <p className="text-quiet">{t("The document says of nothing that it must or must not be done.")}</p>
  const sought = words.trim().toLowerCase()
  const all = digest.duties.filter((d) => (!force || d.force === force) && d.quote.text.toLowerCase().includes(sought))
  return (
    <>
      <div className="mb-3 flex flex-wrap items-center gap-3">
        <Choose quiet label={t("Which duties")} value={force} onChange={setForce} of={[["", t("All")], ...Object.entries(forces())]} />
        <input type="search" aria-label={t("Find a duty")} placeholder={t("Find")} value={words} onChange={(e) => setWords(e.target.value)} className={`${field} w-56 max-w-full`} />
        <span role="status" className="figures text-sm text-quiet">{plural(all.length, "{n} line|{n} lines")}</span>
      </div>
      <ol className="space-y-1">
        {all.map((d, i) => (
          <li key={i} className="grid items-start gap-x-3 sm:grid-cols-[4rem_5.5rem_minmax(0,1fr)]">
            <span className="figures px-2 py-1 text-quiet">{d.number}</span>
            <span className={`px-2 py-1 font-semibold ${inks[d.force]}`}>{forces()[d.force]}</span>
            <Line quote={d.quote} shown={shown} onShow={onShow} after={<Edit collection={collection} document={document} line={d.id} text={d.quote.text} />} />
          </li>
        ))}
      </ol>
    </>
  )
}
