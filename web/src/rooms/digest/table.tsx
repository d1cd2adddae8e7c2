import { ChevronDown } from "lucide-react"
import { useState } from "react"

import { type Table, tableAs, useTable } from "../../api/digest"
import { field } from "../../parts/field"
import { Item, Menu } from "../../parts/menu"
import { Failure, Waiting } from "../../parts/notice"
import { plural, t } from "../../words"
import { Drawn } from "./drawn"
import { ShownPage } from "./shown-page"

type Cell = NonNullable<Table["rows"]>[number][number]
type Props = { collection: string; document: string; number: number; joined: boolean }

// TableView is a table that can be sorted, searched, drawn and taken along, beside its page.
export default function TableView({ collection, document, number, joined }: Props) {
  const table = useTable(collection, document, number, joined)
  const [sorted, setSorted] = useState<{ column: number; down: boolean }>()
  const [words, setWords] = useState("")
  const [cell, setCell] = useState<Cell>()
  if (table.isPending) return <Waiting what={t("Fetching the table…")} />
  if (table.isError) return <Failure error={table.error} />
  const d = table.data
  const rows = arranged(d, words, sorted)
  const sort = (column: number) => setSorted((old) => ({ column, down: old?.column === column && !old.down }))
  const shown = cell ?? d.rows?.[0]?.find((c) => c.box)
  return (
    <div className="mt-4 grid gap-8 lg:grid-cols-[minmax(0,1fr)_minmax(0,24rem)]">
      <div className="min-w-0">
        <div className="mb-3 flex flex-wrap items-center gap-x-4 gap-y-2">
          <h2 className="basis-full text-xl">{d.title}</h2>
          <input type="search" aria-label={t("Find a row")} placeholder={t("Find")} value={words} onChange={(e) => setWords(e.target.value)} className={`${field} w-48 max-w-full`} />
          <span role="status" className="figures text-sm text-quiet">{plural(rows.length, "{n} row|{n} rows")}</span>
          <Menu
            trigger={
              <>
                {t("Save the table")} <ChevronDown aria-hidden className="size-4" />
              </>
            }
          >
            {(["csv", "xlsx", "json", "svg", "png"] as const).map((format) => (
              <Item key={format} href={tableAs(collection, document, number, joined, format)} download={`${document}-${number}.${format}`}>
                {format.toUpperCase()}
              </Item>
            ))}
          </Menu>
        </div>
        <Drawn table={d} rows={rows} />
        <div className="mt-4 max-h-[36rem] overflow-auto rounded border border-line">
          <table className="w-full text-sm">
            <thead className="sticky top-0 bg-sheet">
              <tr>
                {d.columns.map((c, i) => (
                  <th key={i} scope="col" aria-sort={sorted?.column === i ? (sorted.down ? "descending" : "ascending") : undefined} className={`border-b border-line px-2 py-1 align-bottom font-normal text-quiet ${c.kind === "number" ? "text-right" : "text-left"}`}>
                    <button type="button" onClick={() => sort(i)} className="text-inherit hover:underline">
                      {c.name || t("Column {number}", { number: i + 1 })} <span aria-hidden>{sorted?.column === i ? (sorted.down ? "↓" : "↑") : ""}</span>
                    </button>
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {rows.map((row, i) => (
                <tr key={i} className="border-b border-line last:border-0">
                  {row.map((c, j) => (
                    <td key={j} className={`px-2 py-1 figures ${d.columns[j]?.kind === "number" ? "text-right" : ""} ${c === cell ? "bg-ochre-wash" : ""}`}>
                      {c.box ? (
                        <button type="button" aria-label={t("Show {text} on its page", { text: c.text })} onClick={() => setCell(c)} className="text-inherit hover:underline">
                          {c.text}
                        </button>
                      ) : (
                        c.text
                      )}
                    </td>
                  ))}
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      </div>
      {shown && <ShownPage collection={collection} document={shown.document ?? document} quote={{ text: shown.text, page: shown.page, label: "", section: [], boxes: cell?.box ? [cell.box] : boxesOf(d, shown) }} />}
    </div>
  )
}

// arranged are the rows that have the words, in the order that was chosen.
function arranged(table: Table, words: string, sorted: { column: number; down: boolean } | undefined): Cell[][] {
  const sought = words.trim().toLowerCase()
  const rows = (table.rows ?? []).filter((row) => !sought || row.some((c) => c.text.toLowerCase().includes(sought)))
  if (!sorted) return rows
  const by = (a: Cell | undefined, b: Cell | undefined) => (a?.number !== undefined && b?.number !== undefined ? a.number - b.number : (a?.text ?? "").localeCompare(b?.text ?? ""))
  return rows.toSorted((a, b) => (sorted.down ? -1 : 1) * by(a[sorted.column], b[sorted.column]))
}

// boxesOf are the boxes of a table's cells on the page of one.
const boxesOf = (table: Table, of: Cell) => (table.rows ?? []).flatMap((row) => row.flatMap((c) => (c.box && c.page === of.page && c.document === of.document ? [c.box] : [])))
