import { useState } from "react"
import { Link, useParams, useSearchParams } from "react-router"

import type { Schemas, Scope } from "../../api/client"
import { useList } from "../../api/queries"
import { Empty, Failure, Waiting } from "../../parts/notice"
import { PagePicture } from "../../parts/page-picture"
import { pageAt, pageName } from "../../parts/place"
import { plural, t } from "../../words"
import { Where } from "../ask/scope"
import { scopeIn, withScope } from "../ask/scope-address"
import { Query } from "./query"

type Item = Schemas["List"]["items"][number]

// Kind lists all that the documents have of a kind, each with the page where it stands first. The
// kind and its filters are in the address.
export function Kind() {
  const { collection = "" } = useParams()
  const [search, setSearch] = useSearchParams()
  const of = search.get("list") ?? ""
  const scope = scopeIn(search)
  const list = useList(collection, of, scope)
  const [picked, setPicked] = useState<Item>()
  const items = list.data?.items ?? []
  const shown = picked && items.includes(picked) ? picked : items[0]
  const show = (kind: string, within: Scope) => setSearch(withScope({ list: kind }, within))
  return (
    <div>
      <Query key={of} label={t("What to list, in the plural")} button={t("List all")} query={of} onSearch={(kind) => show(kind, scope)} />
      <div className="mt-2 flex flex-wrap items-baseline gap-x-6 gap-y-1 text-sm">
        <Where collection={collection} scope={scope} onChange={(within) => show(of, within)} />
        {items.length > 0 && <Downloads collection={collection} of={of} scope={scope} />}
      </div>
      {list.isLoading && <Waiting what={t("Looking through every line…")} />}
      {list.isError && <Failure error={list.error} />}
      {!of && (
        <div className="mt-8">
          <Empty title={t("What is there to list?")}>{t("Write a kind of thing in the plural, such as houses, forms or fault codes.")}</Empty>
        </div>
      )}
      {list.data && <Looked list={list.data} />}
      {shown && (
        <div className="mt-4 grid gap-10 lg:grid-cols-[minmax(0,1fr)_minmax(0,26rem)]">
          <ol className="self-start border-y border-line">
            {items.map((item) => (
              <Row key={item.text} item={item} shown={item === shown} onShow={() => setPicked(item)} />
            ))}
          </ol>
          <aside aria-label={t("The page")} className="lg:sticky lg:top-6 lg:self-start">
            <p className="mb-2 text-sm text-quiet">
              <Link to={pageAt(collection, shown.quote.document ?? "", shown.quote.page)} className="figures text-leaf underline underline-offset-4">
                {shown.quote.document}, {pageName(shown.quote.page, shown.quote.label)}
              </Link>
            </p>
            <PagePicture collection={collection} document={shown.quote.document ?? ""} number={shown.quote.page} marks={shown.quote.boxes} />
          </aside>
        </div>
      )}
    </div>
  )
}

// Looked says how complete a list is.
function Looked({ list }: { list: Schemas["List"] }) {
  const looked = t("{lines} of {documents} were looked through.", { lines: plural(list.lines, "{n} line|{n} lines"), documents: plural(list.documents, "{n} document|{n} documents") })
  if (list.items.length > 0) return <p className="figures mt-4 text-sm text-quiet">{`${plural(list.items.length, "{n} found.|{n} found.")} ${looked}`}</p>
  return (
    <div className="mt-8">
      <Empty title={t("None found")}>{`${t("No column, table, enumeration or name is called so.")} ${looked}`}</Empty>
    </div>
  )
}

function Row({ item, shown, onShow }: { item: Item; shown: boolean; onShow: () => void }) {
  const ways = { column: t("in a column that is called so"), table: t("in a table that is called so"), enumeration: t("in an enumeration"), name: t("by its name") }
  return (
    <li className={`border-b border-line last:border-b-0 ${shown ? "bg-ochre-wash" : ""}`}>
      <button type="button" aria-pressed={shown} onClick={onShow} className="group flex w-full flex-wrap items-baseline gap-x-4 px-2 py-1.5 text-left">
        <span className="min-w-0 font-medium break-words group-hover:underline">{item.text}</span>
        <span className="figures ml-auto text-sm text-quiet">{`${item.quote.document}, ${pageName(item.quote.page, item.quote.label)} · ${ways[item.way]}`}</span>
      </button>
    </li>
  )
}

function Downloads({ collection, of, scope }: { collection: string; of: string; scope: Scope }) {
  const at = `/api/v1/collections/${encodeURIComponent(collection)}/list?${withScope({ of }, scope).toString()}`
  return (
    <>
      <a href={`${at}&format=csv`} download={`${of}.csv`} className="text-leaf underline">
        {t("Save as CSV")}
      </a>
      <a href={at} download={`${of}.json`} className="text-leaf underline">
        {t("Save as JSON")}
      </a>
    </>
  )
}
