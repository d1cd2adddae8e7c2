import { useState } from "react"
import { Link } from "react-router"

import type { Measurement, Record } from "../../api/client"
import { Button } from "../../parts/button"
import { pageName } from "../../parts/place"
import { t } from "../../words"
import { causeName } from "./causes"

const outcomes: { [outcome: string]: string } = { all: t("all"), wrong: t("wrong"), refused: t("refused"), invented: t("invented"), right: t("right") }
const atOnce = 50

// Records are the questions one by one, by outcome or by cause.
export function Records({ m, collection }: { m: Measurement; collection: string }) {
  const [only, setOnly] = useState<string>("all")
  const [most, setMost] = useState(atOnce)
  const all = m.records ?? []
  const is = (r: Record, name: string) => name === "all" || r.outcome === name || r.cause === name
  const rows = all.filter((r) => is(r, only))
  const causes = Object.keys(m.causes ?? {})
  return (
    <section className="mt-10">
      <h2 className="text-xl">{t("Question by question")}</h2>
      <div role="group" aria-label={t("Show")} className="mt-3 flex flex-wrap gap-2">
        {[...Object.keys(outcomes), ...causes].map((o) => (
          <button key={o} type="button" aria-pressed={only === o} onClick={() => setOnly(o)} className={`figures rounded-full border px-3 py-0.5 text-sm ${only === o ? "border-leaf bg-leaf text-on-leaf" : "border-line"}`}>
            {outcomes[o] ?? causeName(o)} {all.filter((r) => is(r, o)).length}
          </button>
        ))}
      </div>
      <ul className="mt-4 divide-y divide-line border-y border-line">
        {rows.slice(0, most).map((r) => (
          <Row key={r.id} r={r} collection={collection} />
        ))}
      </ul>
      {rows.length > most && (
        <Button className="mt-3" onClick={() => setMost(most + 200)}>
          {t("Show more of {rows}", { rows: rows.length })}
        </Button>
      )}
    </section>
  )
}

function Row({ r, collection }: { r: Record; collection: string }) {
  const places = r.evidence.flatMap((e) => (e.all ? e.all : [e]))
  return (
    <li className="grid grid-cols-[6rem_5rem_1fr] gap-3 py-2">
      <span className="truncate text-sm text-quiet" title={r.id}>
        {r.id}
      </span>
      <span className={r.outcome === "right" ? "text-leaf" : "text-brick"}>{outcomes[r.outcome] ?? r.outcome}</span>
      <div className="min-w-0">
        <Link to={`/c/${collection}/ask?q=${encodeURIComponent(r.question)}`} className="hover:underline">
          {r.question}
        </Link>
        <p className="figures text-sm text-quiet">
          {r.cause && <span className="text-brick">{causeName(r.cause)} · </span>}
          {r.expected && t("expected {answer}", { answer: r.expected }) + " · "}
          {r.state !== "not_found" && r.answer.trim() && t("answered {answer}", { answer: clip(r.answer) }) + " · "}
          {r.rank > 0 ? t("evidence at rank {rank}", { rank: r.rank }) : places.length > 0 ? t("evidence not among the first ten") : t("not in the documents")}
          {places.slice(0, 3).map((p) => (
            <Link key={`${p.document} ${p.page}`} to={`/c/${collection}/pages/${encodeURIComponent(p.document ?? "")}/${p.page}`} className="ml-2 text-leaf underline underline-offset-4">
              {p.document}, {pageName(p.page ?? 1, "")}
            </Link>
          ))}
        </p>
      </div>
    </li>
  )
}

function clip(s: string) {
  const line = s.split(/\s+/).join(" ").trim()
  return line.length > 90 ? line.slice(0, 89) + "…" : line
}
