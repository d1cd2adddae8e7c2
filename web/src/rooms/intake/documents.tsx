import { getCoreRowModel, getFilteredRowModel, getSortedRowModel, type SortingState, useReactTable } from "@tanstack/react-table"
import { useWindowVirtualizer } from "@tanstack/react-virtual"
import { useLayoutEffect, useMemo, useRef, useState } from "react"
import { useSearchParams } from "react-router"

import type { Document } from "../../api/client"
import { useEdits } from "../../api/queries"
import { Checkbox } from "../../parts/checkbox"
import { t } from "../../words"
import { columns, Heads } from "./columns"
import { Filters } from "./filters"
import { Row } from "./row"
import { Selected } from "./selected"
import { inStage, type Stage } from "./states"

// Documents is the table of a collection's documents. Only the rows in view are drawn, so that
// thousands are no more work than a dozen.
export function Documents({ collection, all }: { collection: string; all: Document[] }) {
  const [search, setSearch] = useSearchParams()
  const stage = (search.get("state") ?? "") as Stage
  const tag = search.get("tag") ?? ""
  const [words, setWords] = useState("")
  const [sorting, setSorting] = useState<SortingState>([{ id: "name", desc: false }])
  const [rowSelection, setRowSelection] = useState<Record<string, boolean>>({})
  const edits = useEdits(collection)
  const data = useMemo(() => all.filter((d) => inStage(d, stage) && (!tag || d.tags.includes(tag))), [all, stage, tag])
  // eslint-disable-next-line react-hooks/incompatible-library -- the table's functions are not memoised here
  const table = useReactTable({
    data,
    columns,
    state: { sorting, globalFilter: words, rowSelection },
    getRowId: (d) => d.id,
    onSortingChange: setSorting,
    onRowSelectionChange: setRowSelection,
    globalFilterFn: (row, _, sought: string) => wordsOf(row.original).includes(sought.toLowerCase()),
    getCoreRowModel: getCoreRowModel(),
    getFilteredRowModel: getFilteredRowModel(),
    getSortedRowModel: getSortedRowModel(),
  })
  const rows = table.getRowModel().rows
  const filter = (name: string, value: string) =>
    setSearch((old) => {
      if (value) old.set(name, value)
      else old.delete(name)
      return old
    })
  const chosen = table.getFilteredSelectedRowModel().rows.map((r) => r.original)
  return (
    <section aria-label={t("Documents")} className="mt-8">
      <Filters all={all} stage={stage} tag={tag} words={words} onStage={(s) => filter("state", s)} onTag={(one) => filter("tag", one)} onWords={setWords} />
      {edits && chosen.length > 0 && <Selected collection={collection} chosen={chosen} onDone={() => setRowSelection({})} />}
      <div role="table" aria-label={t("Documents")} aria-rowcount={rows.length + 1} className="mt-3">
        <Heads
          table={table}
          check={edits && <Checkbox label={t("Select all that are shown")} checked={table.getIsAllRowsSelected() ? true : table.getIsSomeRowsSelected() ? "indeterminate" : false} onChange={(on) => table.toggleAllRowsSelected(on)} />}
        />
        <Virtual count={rows.length} keyOf={(i) => rows[i]?.id ?? i}>
          {(i) => {
            const row = rows[i]
            return row && <Row document={row.original} place={i + 2} collection={collection} selected={row.getIsSelected()} onSelect={(on) => row.toggleSelected(on)} />
          }}
        </Virtual>
      </div>
      {rows.length === 0 && <p className="py-4 text-quiet">{t("No document is like that.")}</p>}
    </section>
  )
}

const wordsOf = (d: Document) => `${d.name} ${d.title} ${d.tags.join(" ")} ${d.reason} ${d.warning}`.toLowerCase()

type VirtualProps = { count: number; keyOf: (i: number) => string | number; children: (i: number) => React.ReactNode }

// Virtual draws those of many rows that are in the window, and leaves room for the others.
function Virtual({ count, keyOf, children }: VirtualProps) {
  const list = useRef<HTMLDivElement>(null)
  const [top, setTop] = useState(0)
  useLayoutEffect(() => setTop((list.current?.getBoundingClientRect().top ?? 0) + window.scrollY), [count])
  const rows = useWindowVirtualizer({ count, estimateSize: () => 62, overscan: 8, scrollMargin: top, getItemKey: keyOf })
  return (
    <div role="rowgroup" ref={list} className="relative border-b border-line" style={{ height: rows.getTotalSize() }}>
      {rows.getVirtualItems().map((item) => (
        <div key={item.key} role="presentation" data-index={item.index} ref={rows.measureElement} className="absolute inset-x-0" style={{ top: item.start - top }}>
          {children(item.index)}
        </div>
      ))}
    </div>
  )
}
