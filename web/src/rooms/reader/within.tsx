import { type FormEvent, useState } from "react"
import { Link, useSearchParams } from "react-router"

import { useWithin } from "../../api/documents"
import { Button } from "../../parts/button"
import { field } from "../../parts/field"
import { Failure, Waiting } from "../../parts/notice"
import { pageAt } from "../../parts/place"
import { plural, t } from "../../words"

type Props = { collection: string; document: string; at: number }

// Within finds words in the document, as they are written, and marks them on its pages.
export function Within({ collection, document, at }: Props) {
  const [search, setSearch] = useSearchParams()
  const sought = search.get("find") ?? ""
  const [words, setWords] = useState(sought)
  const found = useWithin(collection, document, sought)
  const submit = (event: FormEvent) => {
    event.preventDefault()
    setSearch(
      (old) => {
        old.set("find", words.trim())
        return old
      },
      { replace: true },
    )
  }
  return (
    <>
      <form role="search" onSubmit={submit} className="flex gap-2">
        <input type="search" aria-label={t("Words in this document")} autoFocus value={words} onChange={(e) => setWords(e.target.value)} className={`${field} w-full min-w-0 text-sm`} />
        <Button type="submit" disabled={!words.trim()}>
          {t("Find")}
        </Button>
      </form>
      {sought && found.isPending && <Waiting what={t("Looking through the document…")} />}
      {found.isError && <Failure error={found.error} />}
      {found.data && sought && (
        <p role="status" className="figures mt-2 text-sm text-quiet">
          {found.data.of === 0 ? t("These words do not stand in the document.") : plural(found.data.of, "{n} place|{n} places")}
        </p>
      )}
      <ol className="mt-2 space-y-1 text-sm">
        {found.data?.hits.map((h, i) => (
          <li key={i}>
            <Link to={{ pathname: pageAt(collection, document, h.page), search: search.toString() }} className={`flex gap-2 rounded px-1 py-0.5 hover:bg-ochre-wash ${h.page === at ? "bg-ochre-wash" : ""}`}>
              <span className="figures w-7 shrink-0 text-right text-quiet">{h.label || h.page}</span>
              <span className="min-w-0 break-words">
                …{h.before.slice(-24)}
                <mark className="bg-transparent font-semibold text-inherit">{h.words}</mark>
                {h.after.slice(0, 36)}…
              </span>
            </Link>
          </li>
        ))}
      </ol>
    </>
  )
}
