import { Trash2 } from "lucide-react"
import { type FormEvent, useState } from "react"

import type { Schemas } from "../../api/client"
import { useGlossary, useSetGlossary } from "../../api/queries"
import { Button } from "../../parts/button"
import { Choose } from "../../parts/choose"
import { field } from "../../parts/field"
import { Empty, Failure, Waiting } from "../../parts/notice"
import { Sought } from "../../parts/sought"
import { plural, t } from "../../words"

type Entry = Schemas["GlossaryEntry"]

// Glossary is the words that stand for the same thing in a collection.
export function Glossary({ collection }: { collection: string }) {
  const glossary = useGlossary(collection)
  const set = useSetGlossary(collection)
  if (glossary.isPending) return <Waiting what={t("Looking up the glossary…")} />
  if (glossary.isError) return <Failure error={glossary.error} />
  const { entries, found, unknown } = glossary.data
  const lines = [
    ...entries.map((entry) => ({ entry, kind: entry.kind === "synonym" ? t("synonym") : t("abbreviation"), given: true })),
    ...found.map((entry) => ({ entry, kind: t("found in the text"), given: false })),
  ]
  return (
    <section>
      <h1 className="text-2xl">{t("Glossary")}</h1>
      <p className="mt-2 max-w-prose text-quiet">{t("Words that stand for the same thing here. What is changed holds for the next question; nothing is indexed again.")}</p>
      <Add onAdd={(e) => set.mutate([...entries, e])} busy={set.isPending} />
      {set.isError && <Failure error={set.error} />}
      {entries.length + found.length === 0 && <Empty title={t("No entry yet")}>{t("Add a synonym or an abbreviation above.")}</Empty>}
      {entries.length + found.length > 0 && (
        <Sought all={lines} words={(l) => `${l.entry.term} ${l.entry.means}`} what={t("Find an entry")}>
          {(shown) => (
            <table className="mt-6 w-full text-left">
              <thead className="text-sm text-quiet">
                <tr>
                  <th className="py-1 font-normal">{t("Term")}</th>
                  <th className="font-normal">{t("Means")}</th>
                  <th className="font-normal">{t("Kind")}</th>
                  <th><span className="sr-only">{t("Remove")}</span></th>
                </tr>
              </thead>
              <tbody>
                {shown.map((l, i) => (
                  <Row key={i} entry={l.entry} kind={l.kind} onRemove={l.given ? () => set.mutate(entries.filter((e) => e !== l.entry)) : undefined} />
                ))}
              </tbody>
            </table>
          )}
        </Sought>
      )}
      {unknown.length > 0 && (
        <>
          <h2 className="mt-8 text-xl">{t("Asked for, and in no document")}</h2>
          <ul className="figures mt-2 space-y-1">
            {unknown.slice(0, 12).map((u) => (
              <li key={u.word}>
                <span className="font-medium">{u.word}</span> <span className="text-quiet">{t("{asked}, last in “{question}”", { asked: plural(u.asked, "{n} time|{n} times"), question: u.question })}</span>
              </li>
            ))}
          </ul>
        </>
      )}
    </section>
  )
}

function Row({ entry, kind, onRemove }: { entry: Entry; kind: string; onRemove?: () => void }) {
  return (
    <tr className="border-t border-line">
      <td className="py-1.5 pr-4 font-medium">{entry.term}</td>
      <td className="pr-4">{entry.means}</td>
      <td className="pr-4 text-quiet">{kind}</td>
      <td className="text-right">
        {onRemove && (
          <button type="button" aria-label={t("Remove {term}", { term: entry.term })} onClick={onRemove} className="p-1 text-quiet hover:text-brick">
            <Trash2 aria-hidden className="size-4" />
          </button>
        )}
      </td>
    </tr>
  )
}

function Add({ onAdd, busy }: { onAdd: (entry: Entry) => void; busy: boolean }) {
  const [term, setTerm] = useState("")
  const [means, setMeans] = useState("")
  const [kind, setKind] = useState<"synonym" | "abbreviation">("synonym")
  const submit = (event: FormEvent) => {
    event.preventDefault()
    onAdd({ kind, term: term.trim(), means: means.trim() })
    setTerm("")
    setMeans("")
  }
  return (
    <form onSubmit={submit} className="mt-5 flex flex-wrap items-end gap-3">
      <label className="text-sm">
        {t("Term")}
        <input value={term} onChange={(e) => setTerm(e.target.value)} className={`${field} block w-44`} />
      </label>
      <Choose quiet label={t("Kind")} value={kind} onChange={(k) => setKind(k as typeof kind)} of={[["synonym", t("means")], ["abbreviation", t("is short for")]]} />
      <label className="text-sm">
        {t("Means")}
        <input value={means} onChange={(e) => setMeans(e.target.value)} className={`${field} block w-56`} />
      </label>
      <Button kind="main" type="submit" disabled={!term.trim() || !means.trim() || busy}>
        {t("Add")}
      </Button>
    </form>
  )
}
