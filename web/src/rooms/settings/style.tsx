import { type FormEvent, useState } from "react"

import type { Schemas } from "../../api/client"
import { useSetStyle, useStyle } from "../../api/queries"
import { Button } from "../../parts/button"
import { Choose } from "../../parts/choose"
import { field } from "../../parts/field"
import { Failure, Waiting } from "../../parts/notice"
import { Wording } from "./wording"
import { t } from "../../words"

// Style is how a collection's answers are put.
export function Style({ collection }: { collection: string }) {
  const style = useStyle(collection)
  if (style.isPending) return <Waiting what={t("Looking up the house style…")} />
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
      <h1 className="text-2xl">{t("House style")}</h1>
      <form onSubmit={submit} className="mt-5 space-y-4">
        <label className="block">
          {t("Statements of an answer, at most")}
          <input type="number" min={1} max={20} value={statements} onChange={(e) => setStatements(Number(e.target.value))} className={`${field} mt-1 block w-24`} />
        </label>
        <label className="block">
          {t("Leave out what stands under these headings, or has these words, one a line")}
          <textarea rows={3} value={leaveOut} onChange={(e) => setLeaveOut(e.target.value)} className={`${field} mt-1 block w-full`} />
        </label>
        <label className="block">
          {t("Add to every answer")}
          <input value={add} onChange={(e) => setAdd(e.target.value)} className={`${field} mt-1 block w-full`} />
        </label>
        <Choose
          label={t("How sure an answer has to be")}
          value={String(certain)}
          onChange={(c) => setCertain(Number(c))}
          className="w-full"
          of={[...new Set([0, 0.3, 0.5, 0.6, 0.7, now.certain ?? 0])].map((c) => [String(c), sureness[c] ?? t("From {n} on", { n: c.toFixed(2) })])}
        />
        <Button kind="main" type="submit" disabled={set.isPending}>
          {t("Save")}
        </Button>
        {set.isError && <Failure error={set.error} />}
      </form>
      <Wording collection={collection} now={now} />
    </section>
  )
}

const sureness: Record<number, string> = {
  0: t("As fitted"),
  0.3: t("Rather answer: from 0.30 on"),
  0.5: t("More careful: from 0.50 on"),
  0.6: t("Careful: from 0.60 on"),
  0.7: t("Rather refuse: from 0.70 on"),
}
