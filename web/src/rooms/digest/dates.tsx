import { useState } from "react"

import type { Digest } from "../../api/digest"
import { Ticked } from "../../parts/checkbox"
import { language, t } from "../../words"
import { Edit } from "./edit"
import { type At, Line } from "./line"

// Dates is a timeline: days of the calendar, then those of each year, then periods.
export function Dates({ digest, collection, document, shown, onShow }: { digest: Digest } & At) {
  const [deadlines, setDeadlines] = useState(false)
  const all = deadlines ? digest.dates.filter((d) => d.deadline) : digest.dates
  if (digest.dates.length === 0) return <p className="text-quiet">{t("The document names no dates.")}</p>
  return (
    <>
      <Ticked checked={deadlines} onChange={setDeadlines} label={t("Only deadlines")} />
      <ol className="mt-4 border-l-2 border-line">
        {all.map((d, i) => (
          <li key={i} className="relative pb-3 pl-5">
            <span aria-hidden className={`absolute top-2 -left-[0.45rem] size-3 rounded-full border-2 border-paper ${d.deadline ? "bg-ochre" : "bg-leaf"}`} />
            <p className="px-2 text-sm">
              <time dateTime={d.when} className="figures font-semibold">
                {said(d.when, d.words)}
              </time>
              {d.deadline && <span className="ml-2 text-ochre">{t("deadline")}</span>}
            </p>
            <Line quote={d.quote} shown={shown} onShow={onShow} after={<Edit collection={collection} document={document} line={d.id} text={d.quote.text} />} />
          </li>
        ))}
      </ol>
    </>
  )
}

// said is a date as people say it; periods are told in the document's words.
function said(when: string, words: string): string {
  const locale = language === "en" ? "en-GB" : language
  const as = (date: string, options: Intl.DateTimeFormatOptions) => new Date(`${date}T00:00:00Z`).toLocaleDateString(locale, { ...options, timeZone: "UTC" })
  if (when.startsWith("P")) return words
  const yearly = /^--(\d\d)(?:-(\d\d))?$/.exec(when)
  if (yearly) return t("each year: {day}", { day: as(`2024-${yearly[1]}-${yearly[2] ?? "01"}`, yearly[2] ? { day: "numeric", month: "long" } : { month: "long" }) })
  if (when.length === 4) return when
  return when.length === 7 ? as(`${when}-01`, { month: "long", year: "numeric" }) : as(when, { day: "numeric", month: "long", year: "numeric" })
}
