import { lazy, Suspense } from "react"
import { useSearchParams } from "react-router"

import { useTables } from "../../api/digest"
import { Ticked } from "../../parts/checkbox"
import { Choose } from "../../parts/choose"
import { Failure, Waiting } from "../../parts/notice"
import { t } from "../../words"
import type { At } from "./line"

const TableView = lazy(() => import("./table"))

// Tables are those of a document, of which one is shown.
export function Tables({ collection, document }: At) {
  const [search, setSearch] = useSearchParams()
  const tables = useTables(collection, document)
  if (tables.isPending) return <Waiting what={t("Looking up the tables…")} />
  if (tables.isError) return <Failure error={tables.error} />
  if (tables.data.length === 0) return <p className="text-quiet">{t("The document has no tables.")}</p>
  const number = Number(search.get("table") ?? tables.data[0]?.number)
  const joined = search.get("joined") === "true"
  const open = (table: string, join: boolean) => setSearch({ part: "tables", table, ...(join ? { joined: "true" } : {}) }, { replace: true })
  return (
    <>
      <div className="flex flex-wrap items-center gap-x-6 gap-y-2">
        <Choose quiet label={t("Table")} value={String(number)} onChange={(wanted) => open(wanted, false)} className="max-w-full" of={tables.data.map((one) => [String(one.number), t("{number}. {title}, page {page}", { number: one.number, title: one.title, page: one.page })])} />
        <Ticked checked={joined} label={t("With all tables that have these columns")} onChange={(on) => open(String(number), on)} />
      </div>
      <Suspense fallback={<Waiting what={t("One moment…")} />}>
        <TableView key={`${number} ${joined}`} collection={collection} document={document} number={number} joined={joined} />
      </Suspense>
    </>
  )
}
