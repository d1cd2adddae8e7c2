import { Trash2 } from "lucide-react"
import { type FormEvent, useState } from "react"
import { useParams } from "react-router"

import type { Schemas } from "../../api/client"
import { useGlossary, useOwns, useSetGlossary, useSetStyle, useStyle } from "../../api/queries"
import { Button } from "../../parts/button"
import { field } from "../../parts/field"
import { Empty, Failure, Waiting } from "../../parts/notice"
import { plural } from "../../words"
import { Sought } from "../../parts/sought"
import { Lessons } from "./lessons"
import { Rights } from "./rights"

type Entry = Schemas["GlossaryEntry"]

// Settings is where a collection is taught its own language and manner.
export default function Settings() {
  const { collection = "" } = useParams()
  const owns = useOwns(collection)
  return (
    <div className="grid gap-12 lg:grid-cols-[minmax(0,3fr)_minmax(0,2fr)]">
      <div className="space-y-12">
        <Glossary collection={collection} />
        <Lessons collection={collection} />
      </div>
      {owns && (
        <div className="space-y-12">
          <Style collection={collection} />
          <Rights collection={collection} />
        </div>
      )}
    </div>
  )
}

function Glossary({ collection }: { collection: string }) {
  const glossary = useGlossary(collection)
  const set = useSetGlossary(collection)
  if (glossary.isPending) return <Waiting what="Looking up the glossary…" />
  if (glossary.isError) return <Failure error={glossary.error} />
  const { entries, found, unknown } = glossary.data
  const lines = [
    ...entries.map((entry) => ({ entry, kind: entry.kind as string, given: true })),
    ...found.map((entry) => ({ entry, kind: "found in the text", given: false })),
  ]
  return (
    <section>
      <h1 className="text-3xl">Glossary</h1>
      <p className="mt-2 max-w-prose text-quiet">Words that stand for the same thing here. What is changed holds for the next question; nothing is indexed again.</p>
      <Add onAdd={(e) => set.mutate([...entries, e])} busy={set.isPending} />
      {set.isError && <Failure error={set.error} />}
      {entries.length + found.length === 0 && <Empty title="No entry yet">Add a synonym or an abbreviation above.</Empty>}
      {entries.length + found.length > 0 && (
        <Sought all={lines} words={(l) => `${l.entry.term} ${l.entry.means}`} what="Find an entry">
          {(shown) => (
            <table className="mt-6 w-full text-left">
              <thead className="text-sm text-quiet">
                <tr>
                  <th className="py-1 font-normal">Term</th>
                  <th className="font-normal">Means</th>
                  <th className="font-normal">Kind</th>
                  <th><span className="sr-only">Remove</span></th>
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
          <h2 className="mt-8 text-xl">Asked for, and in no document</h2>
          <ul className="figures mt-2 space-y-1">
            {unknown.slice(0, 12).map((u) => (
              <li key={u.word}>
                <span className="font-medium">{u.word}</span> <span className="text-quiet">{plural(u.asked, "{n} time|{n} times")}, last in “{u.question}”</span>
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
          <button type="button" aria-label={`Remove ${entry.term}`} onClick={onRemove} className="p-1 text-quiet hover:text-brick">
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
        Term
        <input value={term} onChange={(e) => setTerm(e.target.value)} className={`${field} block w-44`} />
      </label>
      <label className="text-sm">
        <select value={kind} onChange={(e) => setKind(e.target.value as typeof kind)} aria-label="Kind" className={`${field} block`}>
          <option value="synonym">means</option>
          <option value="abbreviation">is short for</option>
        </select>
      </label>
      <label className="text-sm">
        Means
        <input value={means} onChange={(e) => setMeans(e.target.value)} className={`${field} block w-56`} />
      </label>
      <Button kind="main" type="submit" disabled={!term.trim() || !means.trim() || busy}>
        Add
      </Button>
    </form>
  )
}

function Style({ collection }: { collection: string }) {
  const style = useStyle(collection)
  if (style.isPending) return <Waiting what="Looking up the house style…" />
  if (style.isError) return <Failure error={style.error} />
  return <StyleForm key={JSON.stringify(style.data)} collection={collection} now={style.data} />
}

function StyleForm({ collection, now }: { collection: string; now: Schemas["Style"] }) {
  const set = useSetStyle(collection)
  const [statements, setStatements] = useState(now.statements || 3)
  const [leaveOut, setLeaveOut] = useState((now.leave_out ?? []).join("\n"))
  const [add, setAdd] = useState(now.add ?? "")
  const [certain, setCertain] = useState(now.certain ?? 0)
  const submit = (event: FormEvent) => {
    event.preventDefault()
    set.mutate({ ...now, statements, leave_out: leaveOut.split("\n").filter((l) => l.trim()), add: add.trim(), certain })
  }
  return (
    <section>
      <h2 className="text-3xl">House style</h2>
      <form onSubmit={submit} className="mt-5 space-y-4">
        <label className="block">
          Statements of an answer, at most
          <input type="number" min={1} max={20} value={statements} onChange={(e) => setStatements(Number(e.target.value))} className={`${field} mt-1 block w-24`} />
        </label>
        <label className="block">
          Leave out what stands under these headings, or has these words, one a line
          <textarea rows={3} value={leaveOut} onChange={(e) => setLeaveOut(e.target.value)} className={`${field} mt-1 block w-full`} />
        </label>
        <label className="block">
          Add to every answer
          <input value={add} onChange={(e) => setAdd(e.target.value)} className={`${field} mt-1 block w-full`} />
        </label>
        <label className="block">
          How sure an answer has to be
          <select value={certain} onChange={(e) => setCertain(Number(e.target.value))} className={`${field} mt-1 block w-full`}>
            {[...new Set([0, 0.3, 0.5, 0.6, 0.7, now.certain ?? 0])].map((c) => (
              <option key={c} value={c}>
                {sureness[c] ?? `From ${c.toFixed(2)} on`}
              </option>
            ))}
          </select>
        </label>
        <Button kind="main" type="submit" disabled={set.isPending}>
          Keep
        </Button>
        {set.isError && <Failure error={set.error} />}
      </form>
      <Wording collection={collection} now={now} />
    </section>
  )
}

const sureness: Record<number, string> = {
  0: "As fitted",
  0.3: "Rather answer: from 0.30 on",
  0.5: "More careful: from 0.50 on",
  0.6: "Careful: from 0.60 on",
  0.7: "Rather refuse: from 0.70 on",
}

// Wording is who puts answers into words: the program, or an outside model.
function Wording({ collection, now }: { collection: string; now: Schemas["Style"] }) {
  const set = useSetStyle(collection)
  const [url, setURL] = useState(now.model?.url ?? "")
  const [model, setModel] = useState(now.model?.model ?? "")
  const [key, setKey] = useState(now.model?.key ?? "")
  const submit = (event: FormEvent) => {
    event.preventDefault()
    set.mutate({ ...now, model: { ...now.model, url: url.trim(), model: model.trim(), key: key.trim() || undefined } })
  }
  return (
    <details className="mt-8" open={now.model !== undefined}>
      <summary className="w-fit cursor-pointer">
        {now.model ? `Answers are worded by ${now.model.model} at ${now.model.url}.` : "Answers are worded by the program itself, in the documents' own words."}
      </summary>
      <form onSubmit={submit} className="mt-4 space-y-4 border-l-2 border-line pl-4">
        <p className="text-quiet">An outside model sees the evidence of each question. What it says is held to that evidence, sentence by sentence.</p>
        <label className="block">
          Address of its chat completions
          <input type="url" value={url} onChange={(e) => setURL(e.target.value)} placeholder="http://127.0.0.1:7490/v1" className={`${field} mt-1 block w-full`} />
        </label>
        <label className="block">
          Name of the model
          <input value={model} onChange={(e) => setModel(e.target.value)} className={`${field} mt-1 block w-full`} />
        </label>
        <label className="block">
          Name of the secret that is its key
          <input value={key} onChange={(e) => setKey(e.target.value)} className={`${field} mt-1 block w-full`} />
        </label>
        <div className="flex gap-3">
          <Button kind="main" type="submit" disabled={!url.trim() || !model.trim() || set.isPending}>
            Have it word answers
          </Button>
          {now.model && (
            <Button onClick={() => set.mutate({ ...now, model: undefined })} disabled={set.isPending}>
              Do without
            </Button>
          )}
        </div>
        {set.isError && <Failure error={set.error} />}
      </form>
    </details>
  )
}
