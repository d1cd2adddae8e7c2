import type { ColumnDef, Table } from "@tanstack/react-table"
import { ArrowDown, ArrowUp } from "lucide-react"
import type { ReactNode } from "react"

import type { Document } from "../../api/client"
import { t } from "../../words"

// Rows share this grid with the heads above them.
export const grid = "grid grid-cols-[1.5rem_1.5rem_minmax(0,1fr)_auto_2rem] md:grid-cols-[1.5rem_1.5rem_minmax(0,1fr)_14rem_6rem_7.5rem_2rem] items-start gap-x-3"

// byName sorts names as people count: part 2 before part 10.
const byName = new Intl.Collator(undefined, { numeric: true })

const order: Document["state"][] = ["failed", "reading", "indexing", "queued", "ready", "replaced"]

export const columns: ColumnDef<Document>[] = [
  { id: "name", accessorKey: "name", sortingFn: (a, b) => byName.compare(a.original.name, b.original.name) },
  { id: "state", accessorFn: (d) => order.indexOf(d.state) * 1e6 + d.pages },
  { id: "score", accessorFn: (d) => (d.state === "ready" ? d.score : 101) },
  { id: "added", accessorKey: "added" },
]

// names of the columns, with the classes of their heads.
const heads = [
  ["name", () => t("Name"), "col-start-3"],
  ["state", () => t("State"), ""],
  ["score", () => t("Reading"), "hidden md:flex"],
  ["added", () => t("Added"), "hidden md:flex"],
] as const

// Heads are the columns' names, which sort when pressed.
export function Heads({ table, check }: { table: Table<Document>; check: ReactNode }) {
  return (
    <div role="rowgroup">
      <div role="row" aria-rowindex={1} className={`${grid} border-b border-line px-1 pb-1.5 text-sm text-quiet`}>
        <span role="columnheader" className="self-center">
          {check || <span className="sr-only">{t("Selected")}</span>}
        </span>
        {heads.map(([id, name, look]) => {
          const sorted = table.getColumn(id)?.getIsSorted() ?? false
          return (
            <span key={id} role="columnheader" aria-sort={sorted === "asc" ? "ascending" : sorted === "desc" ? "descending" : "none"} className={look}>
              <button type="button" onClick={() => table.getColumn(id)?.toggleSorting(sorted === "asc")} className="inline-flex items-center gap-1 hover:text-ink">
                {name()}
                {sorted === "asc" && <ArrowUp aria-hidden className="size-3.5" />}
                {sorted === "desc" && <ArrowDown aria-hidden className="size-3.5" />}
              </button>
            </span>
          )
        })}
        <span role="columnheader">
          <span className="sr-only">{t("Remove")}</span>
        </span>
      </div>
    </div>
  )
}
