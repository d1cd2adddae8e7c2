import { ChevronDown, ChevronRight } from "lucide-react"
import { useState } from "react"
import { Link } from "react-router"

import type { Schemas } from "../../api/client"
import { useOutline } from "../../api/documents"
import { field } from "../../parts/field"
import { Failure, Waiting } from "../../parts/notice"
import { pageAt } from "../../parts/place"
import { t } from "../../words"

type Heading = Schemas["Heading"]
type Props = { collection: string; document: string; at: number }

// Outlines longer than this are folded, and can be searched.
const long = 25

// Contents is the document's outline; the chapter that is open is marked.
export function Contents({ collection, document, at }: Props) {
  const outline = useOutline(collection, document)
  const [open, setOpen] = useState<Record<number, boolean>>({})
  const [words, setWords] = useState("")
  if (outline.isPending) return <Waiting what={t("Looking up the headings…")} />
  if (outline.isError) return <Failure error={outline.error} />
  const all = outline.data
  if (all.length === 0) return <p className="text-sm text-quiet">{t("No headings were found in this document.")}</p>
  const here = all.findLastIndex((h) => h.page <= at)
  const sought = words.trim().toLowerCase()
  const shown = sought ? all.map((_, i) => i).filter((i) => all[i]?.title.toLowerCase().includes(sought)) : unfolded(all, here, open)
  return (
    <>
      {all.length > long && <input type="search" aria-label={t("Find a heading")} placeholder={t("Find a heading")} value={words} onChange={(e) => setWords(e.target.value)} className={`${field} mb-2 w-full text-sm`} />}
      <ol className="space-y-0.5 text-sm">
        {shown.map((i) => {
          const h = all[i] as Heading
          const parent = (all[i + 1]?.level ?? 0) > h.level
          const folds = parent && all.length > long && !sought
          const isOpen = open[i] ?? holds(all, i, here)
          return (
            <li key={i} className="flex items-start gap-1" style={{ paddingLeft: `${(h.level - 1) * 0.7}rem` }}>
              {folds ? (
                <button type="button" aria-expanded={isOpen} aria-label={t("Under {title}", { title: h.title })} onClick={() => setOpen({ ...open, [i]: !isOpen })} className="mt-0.5 text-quiet hover:text-ink">
                  {isOpen ? <ChevronDown aria-hidden className="size-4" /> : <ChevronRight aria-hidden className="size-4" />}
                </button>
              ) : (
                all.length > long && <span className="w-4 shrink-0" />
              )}
              <Link to={pageAt(collection, document, h.page)} aria-current={i === here ? "location" : undefined} className={`flex min-w-0 grow justify-between gap-2 rounded px-1 hover:bg-ochre-wash ${i === here ? "bg-ochre-wash" : ""}`}>
                <span className="min-w-0 break-words">{h.title}</span>
                <span className="figures text-quiet">{h.label || h.page}</span>
              </Link>
            </li>
          )
        })}
      </ol>
    </>
  )
}

// holds tells whether entry i of an outline, or one under it, is the one at `here`.
function holds(all: Heading[], i: number, here: number): boolean {
  const end = all.findIndex((h, j) => j > i && h.level <= (all[i]?.level ?? 0))
  return here >= i && (end < 0 || here < end)
}

// unfolded are the entries that no folded one hides. Only what is open is shown of a long
// outline below its first level.
function unfolded(all: Heading[], here: number, open: Record<number, boolean>): number[] {
  const out: number[] = []
  let hidden = Infinity // entries deeper than this level are
  all.forEach((h, i) => {
    if (h.level > hidden) return
    hidden = Infinity
    out.push(i)
    if (all.length > long && !(open[i] ?? holds(all, i, here))) hidden = h.level
  })
  return out
}
