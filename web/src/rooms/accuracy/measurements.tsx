import { type FormEvent, useState } from "react"
import { Link, useNavigate, useParams } from "react-router"

import { useMeasure, useMeasurements, useSets, useSetups } from "../../api/accuracy"
import type { Measurement } from "../../api/client"
import { Button } from "../../parts/button"
import { Choose } from "../../parts/choose"
import { Empty, Failure, Waiting } from "../../parts/notice"
import { t, when } from "../../words"
import { figureName } from "./figures"
import { measurable, SetPicker } from "./set-picker"
import { Trend } from "./trend"
import { AfterChanges } from "./watch"

const shown = ["page recall@5", "right, page cited", "wrong of those given", "refusals right", "refusals wrong"]

// Measurements lists what was measured, draws how it went, and measures.
export function Measurements() {
  const { collection = "" } = useParams()
  const measurements = useMeasurements(collection)
  return (
    <div>
      <h1 className="text-3xl">{t("How right are the answers?")}</h1>
      <p className="mt-2 max-w-prose text-quiet">
        {t("Every question of a set is asked, and the answers, the cited pages and the refusals are compared with what the set expects.")}
      </p>
      <Start collection={collection} />
      <div className="mt-6 space-y-6">
        {measurements.isPending && <Waiting what={t("Looking up the measurements…")} />}
        {measurements.isError && <Failure error={measurements.error} />}
        {measurements.data?.length === 0 && (
          <Empty title={t("Nothing measured yet")}>
            {t("Keep a question set first: questions with the accepted answers and the pages that prove them. Import a file, or have drafts made from the documents.")}
          </Empty>
        )}
        {measurements.data && measurements.data.length > 1 && <Trend all={measurements.data} />}
        {measurements.data && measurements.data.length > 0 && <List all={measurements.data} collection={collection} />}
        <AfterChanges collection={collection} />
      </div>
    </div>
  )
}

function Start({ collection }: { collection: string }) {
  const sets = useSets(collection)
  const setups = useSetups(collection)
  const measure = useMeasure(collection)
  const [set, setSet] = useState("")
  const [trial, setTrial] = useState("")
  const usable = measurable(sets.data)
  const submit = (event: FormEvent) => {
    event.preventDefault()
    measure.mutate({ set: set || (usable[0]?.name ?? ""), trial })
  }
  if (sets.data && usable.length === 0) {
    return (
      <p className="mt-5">
        <Link to={`/c/${collection}/accuracy/questions`} className="text-leaf underline underline-offset-4">
          {t("Make a question set to measure with")}
        </Link>
      </p>
    )
  }
  return (
    <form onSubmit={submit} className="mt-5 flex flex-wrap items-end gap-4">
      <SetPicker sets={usable} value={set} onPick={setSet} />
      <Choose label={t("Set-up")} value={trial} onChange={setTrial} of={[["", t("live")], ...(setups.data?.trials ?? []).map((one) => [one.name, one.name] as const)]} />
      <Button type="submit" kind="main" disabled={measure.isPending || usable.length === 0}>
        {t("Measure")}
      </Button>
      {measure.isError && <Failure error={measure.error} />}
    </form>
  )
}

function List({ all, collection }: { all: Measurement[]; collection: string }) {
  const [picked, setPicked] = useState<string[]>([])
  const go = useNavigate()
  const pick = (id: string) => setPicked(picked.includes(id) ? picked.filter((p) => p !== id) : [...picked, id].slice(-2))
  // The earlier one is what the later is compared with.
  const order = all.filter((m) => picked.includes(m.id)).map((m) => m.id)
  return (
    <div>
      <div className="flex flex-wrap items-center gap-3">
        <Button disabled={picked.length !== 2} onClick={() => go(`/c/${collection}/accuracy/compare/${order[1]}/${order[0]}`)}>
          {t("Compare two")}
        </Button>
        <Button disabled={picked.length === 0} onClick={() => go(`/c/${collection}/accuracy/judge/${picked.join(",")}`)}>
          {t("Judge answers")}
        </Button>
        <span className="text-sm text-quiet">{t("Tick measurements to compare or to judge.")}</span>
      </div>
      <div className="mt-3 overflow-x-auto">
        <table className="figures w-full border-collapse text-left">
          <thead className="text-sm text-quiet">
            <tr className="border-b border-line">
              <th className="py-2 font-normal">
                <span className="sr-only">{t("Pick")}</span>
              </th>
              <th className="font-normal">{t("When")}</th>
              <th className="font-normal">{t("Question set")}</th>
              <th className="font-normal">{t("Set-up")}</th>
              {shown.map((name) => (
                <th key={name} className="pl-4 text-right font-normal">
                  {figureName(name)}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {all.map((m) => (
              <tr key={m.id} className="border-b border-line">
                <td className="py-2 pr-3">
                  <input type="checkbox" className="accent-leaf" aria-label={t("Pick {id}", { id: m.id })} checked={picked.includes(m.id)} onChange={() => pick(m.id)} />
                </td>
                <td className="whitespace-nowrap pr-4">
                  <Link to={`/c/${collection}/accuracy/${m.id}`} className="text-leaf underline underline-offset-4">
                    {when(m.created)}
                  </Link>
                </td>
                <td className="pr-4">
                  {m.question_set.name}
                  {m.question_set.version !== undefined && <span className="text-quiet"> v{m.question_set.version}</span>}
                </td>
                <td>{m.subject.setup || t("live")}</td>
                {shown.map((name) => (
                  <td key={name} className="text-right">
                    {m.figures.find((f) => f.name === name)?.value.toFixed(3) ?? "–"}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </div>
  )
}
