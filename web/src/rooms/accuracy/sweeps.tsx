import { type FormEvent, useState } from "react"
import { useParams } from "react-router"

import { useSets, useSweep, useSweeps } from "../../api/accuracy"
import { Button } from "../../parts/button"
import { Field } from "../../parts/field"
import { Empty, Failure, Waiting } from "../../parts/notice"
import { measurable, SetPicker } from "./set-picker"
import { SweepResult } from "./sweep-result"
import { t } from "../../words"

const numbers = (s: string) => s.split(/[,; ]+/).filter(Boolean).map(Number)

// Sweeps tries many set-ups with one question set, and shows what came of it.
export function Sweeps() {
  const { collection = "" } = useParams()
  const sweeps = useSweeps(collection)
  return (
    <div className="max-w-5xl">
      <h1 className="text-3xl">{t("Try many set-ups")}</h1>
      <p className="mt-2 max-w-prose text-quiet">
        {t("Every combination of the values, or as many as fit into the time. What can hardly win any more is given up early. Nothing changes for readers.")}
      </p>
      <Plan collection={collection} />
      {sweeps.isPending && <Waiting what={t("Looking up the sweeps…")} />}
      {sweeps.isError && <Failure error={sweeps.error} />}
      {sweeps.data?.length === 0 && (
        <div className="mt-6">
          <Empty title={t("Nothing swept yet")}>{t("Give some values of one or more settings above. What you leave empty stays as in the live set-up.")}</Empty>
        </div>
      )}
      {sweeps.data?.map((s) => (
        <SweepResult key={s.id} sweep={s} collection={collection} />
      ))}
    </div>
  )
}

const ways = ["both", "words", "meaning"] as const

function Plan({ collection }: { collection: string }) {
  const sets = useSets(collection)
  const sweep = useSweep(collection)
  const usable = measurable(sets.data)
  const [set, setSet] = useState("")
  const [targets, setTargets] = useState("60, 100, 160")
  const [passages, setPassages] = useState("")
  const [certain, setCertain] = useState("")
  const [by, setBy] = useState<(typeof ways)[number][]>(["both"])
  const [minutes, setMinutes] = useState(10)
  const submit = (event: FormEvent) => {
    event.preventDefault()
    sweep.mutate({ set: set || (usable[0]?.name ?? ""), targets: numbers(targets), passages: numbers(passages), certain: numbers(certain), retrieval: by, minutes })
  }
  return (
    <form onSubmit={submit} aria-label={t("New sweep")} className="mt-5 grid gap-4 sm:grid-cols-2 lg:grid-cols-4">
      <SetPicker sets={usable} value={set} onPick={setSet} className="w-full" />
      <Field label={t("Words of a passage")} value={targets} onChange={(e) => setTargets(e.target.value)} />
      <Field label={t("Passages read")} placeholder="8, 12, 20" value={passages} onChange={(e) => setPassages(e.target.value)} />
      <Field label={t("Answer from")} placeholder="0.4, 0.5, 0.6" value={certain} onChange={(e) => setCertain(e.target.value)} />
      <fieldset className="sm:col-span-2">
        <legend>{t("Found by")}</legend>
        <div className="mt-1 flex gap-5">
          {ways.map((w) => (
            <label key={w} className="inline-flex items-center gap-1.5">
              <input type="checkbox" className="accent-leaf" checked={by.includes(w)} onChange={(e) => setBy(e.target.checked ? [...by, w] : by.filter((x) => x !== w))} />
              {{ both: t("words and meaning"), words: t("words"), meaning: t("meaning") }[w]}
            </label>
          ))}
        </div>
      </fieldset>
      <Field label={t("Minutes at most")} type="number" min={1} max={1440} value={minutes} onChange={(e) => setMinutes(Number(e.target.value))} />
      <div className="flex items-end">
        <Button type="submit" kind="main" disabled={sweep.isPending || usable.length === 0}>
          {t("Sweep")}
        </Button>
      </div>
      {sweep.isError && <Failure error={sweep.error} />}
    </form>
  )
}
