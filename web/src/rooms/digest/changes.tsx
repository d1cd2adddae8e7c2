import { useSearchParams } from "react-router"

import { useChanges } from "../../api/digest"
import { useVersions } from "../../api/documents"
import { useDocuments } from "../../api/queries"
import { Choose } from "../../parts/choose"
import { Failure, Waiting } from "../../parts/notice"
import { pageName } from "../../parts/place"
import { plural, t, when } from "../../words"
import { type At, Line } from "./line"

// Changes are what a document says otherwise than an earlier version, or another document.
export function Changes({ collection, document, shown, onShow }: At) {
  const [search, setSearch] = useSearchParams()
  const versions = useVersions(collection, document)
  const documents = useDocuments(collection)
  const earlier = versions.data?.slice(1) ?? []
  const others = (documents.data ?? []).filter((d) => d.state === "ready" && d.name !== versions.data?.[0]?.name)
  const since = search.get("since") ?? earlier[0]?.id ?? ""
  const changes = useChanges(collection, document, since)
  const of = [["", t("Choose the earlier one")] as const, ...earlier.map((v) => [v.id, t("the version of {when}", { when: when(v.added) })] as const), ...others.map((d) => [d.name, d.name] as const)]
  return (
    <>
      <Choose label={t("Compared with")} value={since} onChange={(v) => setSearch({ part: "changes", since: v }, { replace: true })} className="max-w-full" of={of} />
      {since && changes.isPending && <Waiting what={t("Comparing the two…")} />}
      {changes.isError && <Failure error={changes.error} />}
      {changes.data && since && (
        <>
          <p role="status" className="figures mt-3 text-sm text-quiet">{plural(changes.data.changes.length, "{n} difference|{n} differences")}</p>
          <ol className="mt-2 space-y-3">
            {changes.data.changes.map((c, i) => (
              <li key={i} className="border-l-2 border-line pl-3">
                {c.before && (
                  <p className="px-2 text-sm text-quiet">
                    {c.after ? t("before") : t("dropped")}: <del className="decoration-brick">{c.before.text}</del> <span className="figures whitespace-nowrap">{pageName(c.before.page, c.before.label)}</span>
                  </p>
                )}
                {c.after && (
                  <>
                    {!c.before && <p className="px-2 text-sm text-leaf">{t("added")}</p>}
                    <Line quote={c.after} shown={shown} onShow={onShow} />
                  </>
                )}
                {c.figures.map((f, j) => (
                  <p key={j} className="figures px-2 text-sm text-ochre">
                    {t("{after} instead of {before}", { after: f.after, before: f.before })}
                  </p>
                ))}
              </li>
            ))}
          </ol>
        </>
      )}
    </>
  )
}
