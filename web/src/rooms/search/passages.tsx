import { useState } from "react"
import { Link, useParams, useSearchParams } from "react-router"

import type { Schemas, Scope } from "../../api/client"
import { useFind } from "../../api/queries"
import { Choose } from "../../parts/choose"
import { Empty, Failure, Waiting } from "../../parts/notice"
import { PagePicture } from "../../parts/page-picture"
import { pageName } from "../../parts/place"
import { plural, t } from "../../words"
import { Where } from "../ask/scope"
import { scopeIn, withScope } from "../ask/scope-address"
import { Query } from "./query"
import { ScoreParts } from "./score-parts"

type Found = Schemas["Found"]

// Passages shows the passages for a query, with what each part of a score gave, and the page beside
// them. The query and its filters are in the address.
export function Passages() {
  const { collection = "" } = useParams()
  const [search, setSearch] = useSearchParams()
  const query = search.get("query") ?? ""
  const top = Number(search.get("top") ?? 10)
  const scope = scopeIn(search)
  const found = useFind(collection, query, top, scope)
  const [picked, setPicked] = useState<{ of: string; rank: number }>()
  const passages = found.data?.passages ?? []
  const shown = passages.find((p) => picked?.of === search.toString() && p.rank === picked.rank) ?? passages[0]
  const show = (words: string, most: number, within: Scope) => setSearch(withScope({ query: words, top: String(most) }, within))
  return (
    <div>
      <Query key={query} label={t("Words")} button={t("Search")} query={query} onSearch={(words) => show(words, top, scope)} />
      <div className="mt-2 flex flex-wrap items-baseline gap-x-6 gap-y-1 text-sm">
        <Where collection={collection} scope={scope} onChange={(within) => show(query, top, within)} />
        <Choose quiet label={t("Passages")} value={String(top)} onChange={(n) => show(query, Number(n), scope)} of={[10, 25, 50, 100].map((n) => [String(n), plural(n, "{n} passage|{n} passages")])} />
        {query && (
          <a href={`/api/v1/collections/${encodeURIComponent(collection)}/find?${search.toString()}&explain=true`} download="passages.json" className="text-leaf underline">
            {t("Save as JSON")}
          </a>
        )}
      </div>
      {found.isLoading && <Waiting what={t("Searching…")} />}
      {found.isError && <Failure error={found.error} />}
      {!query && (
        <div className="mt-8">
          <Empty title={t("What passages are there?")}>{t("Words in quotes have to stand side by side; a word after a dash must not be there. What comes first here is what an answer would be read from.")}</Empty>
        </div>
      )}
      {found.data?.passages.length === 0 && (
        <div className="mt-8">
          <Empty title={t("Nothing found")}>{t("No passage has any of these words, nor anything like their meaning.")}</Empty>
        </div>
      )}
      {shown && (
        <div className="mt-6 grid gap-10 lg:grid-cols-[minmax(0,10fr)_minmax(0,8fr)]">
          <ol className="divide-y divide-line border-y border-line">
            {passages.map((p) => (
              <Passage key={p.rank} p={p} best={passages[0]?.score ?? 1} shown={p === shown} collection={collection} onShow={() => setPicked({ of: search.toString(), rank: p.rank })} />
            ))}
          </ol>
          <aside aria-label={t("The page")} className="lg:sticky lg:top-6 lg:self-start">
            <p className="figures mb-2 text-sm text-quiet">
              {shown.document}, {pageName(shown.pages[0] ?? 1, shown.label)}
            </p>
            <PagePicture collection={collection} document={shown.document_id} number={shown.pages[0] ?? 1} marks={shown.boxes} />
          </aside>
        </div>
      )}
    </div>
  )
}

type PassageProps = { p: Found; best: number; shown: boolean; collection: string; onShow: () => void }

function Passage({ p, best, shown, collection, onShow }: PassageProps) {
  return (
    <li className={`py-3 ${shown ? "bg-ochre-wash/50" : ""}`}>
      <div className="flex flex-wrap items-baseline gap-x-3 px-2 text-sm">
        <span className="figures text-quiet">{p.rank}</span>
        <button type="button" aria-pressed={shown} onClick={onShow} className="text-left font-medium hover:underline">
          {p.title || p.document}
          {p.section.length > 0 && <span className="font-normal text-quiet"> · {p.section.at(-1)}</span>}
        </button>
        <Link to={`/c/${collection}/pages/${encodeURIComponent(p.document)}/${p.pages[0]}`} className="figures ml-auto text-leaf underline underline-offset-4">
          {pageName(p.pages[0] ?? 1, p.label)}
        </Link>
      </div>
      <p className="mt-1 line-clamp-4 px-2 whitespace-pre-line">{p.text}</p>
      {p.explain && <ScoreParts explain={p.explain} score={p.score} best={best} />}
    </li>
  )
}
