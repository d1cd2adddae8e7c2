import { lazy, Suspense } from "react"
import { useSearchParams } from "react-router"

import { useTables } from "../../api/digest"
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
  const open = (wanted: string) => setSearch({ part: "tables", table: wanted }, { replace: true })
  return (
    <>
      <Choose quiet label={t("Table")} value={String(number)} onChange={open} className="max-w-full" of={tables.data.map((one) => [String(one.number), t("{number}. {title}, page {page}", { number: one.number, title: one.title, page: one.page })])} />
      <Suspense fallback={<Waiting what={t("One moment…")} />}>
        <TableView key={number} collection={collection} document={document} number={number} />
      </Suspense>
    </>
  )
}
