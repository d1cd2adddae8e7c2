import { useRef } from "react"
import { Link, useNavigate, useParams } from "react-router"

import type { Measurement } from "../api/client"
import { useMeasure, useMeasurements } from "../api/queries"
import { Button } from "../parts/button"
import { Empty, Failure, Waiting } from "../parts/notice"

const shown = ["page recall@5", "right, page cited", "citations that prove", "refusals right"]

// Accuracy lists the collection's measurements and takes a question set.
export function Accuracy() {
  const { collection = "" } = useParams()
  const measurements = useMeasurements(collection)
  const measure = useMeasure(collection)
  const picker = useRef<HTMLInputElement>(null)
  const go = useNavigate()
  const run = (file: File | undefined) =>
    file && measure.mutate(file, { onSuccess: (m) => go(`/c/${collection}/accuracy/${m.id}`) })
  return (
    <div className="max-w-5xl">
      <div className="flex flex-wrap items-end justify-between gap-4">
        <div>
          <h1 className="text-3xl">Accuracy</h1>
          <p className="mt-2 max-w-prose text-quiet">
            Ask every question of a set and compare the answers, the cited pages and the refusals with what it expects.
          </p>
        </div>
        <input ref={picker} type="file" accept=".jsonl,.csv" className="sr-only" aria-label="Question set" tabIndex={-1} onChange={(e) => run(e.target.files?.[0])} />
        <Button kind="main" disabled={measure.isPending} onClick={() => picker.current?.click()}>
          {measure.isPending ? "Measuring…" : "Measure with a question set"}
        </Button>
      </div>
      <div className="mt-6 space-y-4">
        {measure.isError && <Failure error={measure.error} />}
        {measurements.isPending && <Waiting what="Looking up the measurements…" />}
        {measurements.isError && <Failure error={measurements.error} />}
        {measurements.data?.length === 0 && (
          <Empty title="Nothing measured yet">
            A question set is a file with one JSON object a line: a question, the accepted answers and the page that proves
            them.
          </Empty>
        )}
        {measurements.data && measurements.data.length > 0 && <List all={measurements.data} collection={collection} />}
      </div>
    </div>
  )
}

function List({ all, collection }: { all: Measurement[]; collection: string }) {
  return (
    <table className="figures w-full border-collapse text-left">
      <thead className="text-sm text-quiet">
        <tr className="border-b border-line">
          <th className="py-2 font-normal">When</th>
          <th className="font-normal">Question set</th>
          <th className="font-normal">State</th>
          {shown.map((name) => (
            <th key={name} className="text-right font-normal">
              {name}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {all.map((m) => (
          <tr key={m.id} className="border-b border-line">
            <td className="py-2">
              <Link to={`/c/${collection}/accuracy/${m.id}`} className="text-leaf underline underline-offset-4">
                {new Date(m.created).toLocaleString("en-GB", { dateStyle: "medium", timeStyle: "short" })}
              </Link>
            </td>
            <td>{m.question_set.name}</td>
            <td className="text-quiet">{m.subject.state.slice(0, 8)}</td>
            {shown.map((name) => (
              <td key={name} className="text-right">
                {m.figures.find((f) => f.name === name)?.value.toFixed(3) ?? "–"}
              </td>
            ))}
          </tr>
        ))}
      </tbody>
    </table>
  )
}
