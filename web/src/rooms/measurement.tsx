import { useState } from "react"
import { Link, useParams } from "react-router"

import type { Figure, Measurement } from "../api/client"
import { useMeasurement } from "../api/queries"
import { Failure, Waiting } from "../parts/notice"
import { plural } from "../parts/place"

// MeasurementRoom shows one measurement: its figures, drawn with their
// intervals, and a row a question.
export function MeasurementRoom() {
  const { measurement = "", collection = "" } = useParams()
  const m = useMeasurement(measurement)
  if (m.isPending) return <Waiting what="Fetching the measurement…" />
  if (m.isError) return <Failure error={m.error} />
  const { subject, question_set: set } = m.data
  return (
    <div className="max-w-5xl">
      <h1 className="text-3xl">{set.name}</h1>
      <p className="figures mt-2 text-quiet">
        {plural(set.questions, "question")} on {plural(subject.documents, "document")}, {plural(subject.pages, "page")}
        {subject.lessons > 0 && `, taught ${plural(subject.lessons, "lesson")}`};{" "}
        {new Date(m.data.created).toLocaleString("en-GB", { dateStyle: "long", timeStyle: "short" })}
      </p>
      <table className="figures mt-6 w-full border-collapse text-left">
        <caption className="sr-only">Figures with their 95 % intervals</caption>
        <tbody>
          {m.data.figures.map((f) => (
            <FigureRow key={f.name} figure={f} />
          ))}
        </tbody>
      </table>
      <Records m={m.data} collection={collection} />
    </div>
  )
}

function FigureRow({ figure: f }: { figure: Figure }) {
  const at = (x: number) => 4 + 292 * x
  return (
    <tr className="border-b border-line">
      <th scope="row" className="py-2 font-normal">
        {f.name}
      </th>
      <td className="pr-6 text-right text-xl">{f.value.toFixed(3)}</td>
      <td>
        <svg viewBox="0 0 300 18" className="h-5 w-full max-w-md" aria-hidden>
          <line x1={4} x2={296} y1={9} y2={9} className="stroke-line" />
          <line x1={at(f.low)} x2={at(f.high)} y1={9} y2={9} className="stroke-leaf" strokeWidth={5} strokeOpacity={0.35} />
          <circle cx={at(f.value)} cy={9} r={4} className="fill-leaf" />
        </svg>
      </td>
      <td className="text-right text-sm text-quiet">
        {f.low.toFixed(3)} – {f.high.toFixed(3)}, {plural(f.questions, "question")}
      </td>
    </tr>
  )
}

const outcomes = ["all", "wrong", "refused", "invented", "right"] as const

function Records({ m, collection }: { m: Measurement; collection: string }) {
  const [only, setOnly] = useState<(typeof outcomes)[number]>("all")
  const all = m.records ?? []
  const rows = all.filter((r) => only === "all" || r.outcome === only)
  return (
    <section className="mt-10">
      <h2 className="text-xl">Question by question</h2>
      <div role="group" aria-label="Show" className="mt-3 flex flex-wrap gap-2">
        {outcomes.map((o) => (
          <button key={o} type="button" aria-pressed={only === o} onClick={() => setOnly(o)} className={`figures rounded-full border px-3 py-0.5 text-sm ${only === o ? "border-leaf bg-leaf text-on-leaf" : "border-line"}`}>
            {o} {o === "all" ? all.length : all.filter((r) => r.outcome === o).length}
          </button>
        ))}
      </div>
      <ul className="mt-4 divide-y divide-line border-y border-line">
        {rows.map((r) => (
          <li key={r.id} className="grid grid-cols-[4.5rem_5rem_1fr] gap-3 py-2">
            <span className="text-sm text-quiet">{r.id}</span>
            <span className={r.outcome === "right" ? "text-leaf" : "text-brick"}>{r.outcome}</span>
            <div className="min-w-0">
              <Link to={`/c/${collection}/ask?q=${encodeURIComponent(r.question)}`} className="hover:underline">
                {r.question}
              </Link>
              <p className="figures truncate text-sm text-quiet">
                {r.expected && `expected ${r.expected} · `}
                {r.rank > 0 ? `evidence at rank ${r.rank}` : "evidence not among the first ten"}
              </p>
            </div>
          </li>
        ))}
      </ul>
    </section>
  )
}
