import { useState } from "react"
import { Link, useParams } from "react-router"

import { useComparison, useMeasurement } from "../../api/accuracy"
import type { Schemas } from "../../api/client"
import { Failure, Waiting } from "../../parts/notice"
import { Choose } from "../../parts/choose"
import { plural, t, when } from "../../words"
import { causeName } from "./causes"
import { figureName } from "./figures"
import { Pairs } from "./pairs"

type Change = Schemas["Change"]

// ComparisonRoom sets two measurements side by side: every figure with what is chance in its
// difference, and each question that got better or worse.
export function ComparisonRoom() {
  const { collection = "", before = "", after = "" } = useParams()
  const c = useComparison(before, after)
  const [tag, setTag] = useState("")
  if (c.isPending) return <Waiting what={t("Comparing…")} />
  if (c.isError) return <Failure error={c.error} />
  const changes = tag ? (c.data.by_tag[tag] ?? []) : c.data.figures
  return (
    <div className="max-w-6xl">
      <h1 className="text-3xl">{t("Before and after")}</h1>
      <div className="mt-2 grid gap-x-8 sm:grid-cols-2">
        <Which title={t("Before")} id={before} collection={collection} />
        <Which title={t("After")} id={after} collection={collection} />
      </div>
      <p className="figures mt-4">
        {plural(c.data.questions, "{n} question in both.|{n} questions in both.")}{" "}
        <span className="text-leaf">{t("{n} got better", { n: c.data.better.length })}</span>, <span className="text-brick">{t("{n} got worse", { n: c.data.worse.length })}</span>.{" "}
        {t("If both were as good as each other, so unequal a split would come up with a probability of {p} (McNemar’s exact test).", { p: c.data.mcnemar_p.toFixed(3) })}{" "}
        {c.data.only_a + c.data.only_b > 0 && plural(c.data.only_a + c.data.only_b, "{n} question in one of them alone is left out.|{n} questions in one of them alone are left out.")}
      </p>
      <Choose label={t("Kind of question")} value={tag} onChange={setTag} of={[["", t("all")], ...Object.keys(c.data.by_tag).sort().map((one) => [one, one] as const)]} />
      <Figures changes={changes} />
      <LostWhere causes={c.data.causes} />
      <Pairs title={t("Got better")} pairs={c.data.better} collection={collection} before={before} after={after} />
      <Pairs title={t("Got worse")} pairs={c.data.worse} collection={collection} before={before} after={after} />
    </div>
  )
}

function Which({ title, id, collection }: { title: string; id: string; collection: string }) {
  const m = useMeasurement(id)
  return (
    <p className="text-quiet">
      {title}:{" "}
      <Link to={`/c/${collection}/accuracy/${id}`} className="text-leaf underline underline-offset-4">
        {m.data ? `${m.data.subject.setup || t("live")}, ${when(m.data.created)}` : id}
      </Link>
    </p>
  )
}

function Figures({ changes }: { changes: Change[] }) {
  return (
    <div className="mt-3 overflow-x-auto">
      <table className="figures w-full border-collapse text-left">
        <thead className="text-sm text-quiet">
          <tr className="border-b border-line">
            {[t("Figure"), t("Before"), t("After"), t("Difference"), t("95 % interval"), "p"].map((h, i) => (
              <th key={h} className={`py-1.5 font-normal ${i === 4 ? "text-center" : i > 0 ? "text-right" : ""}`}>
                {h}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {changes.map((f) => (
            <tr key={f.name} className="border-b border-line">
              <th scope="row" className="py-1.5 font-normal">
                {figureName(f.name)}
              </th>
              <td className="text-right">{f.a.toFixed(3)}</td>
              <td className="text-right">{f.b.toFixed(3)}</td>
              <td className={`text-right ${f.better ? "text-leaf" : f.worse ? "text-brick" : ""}`}>
                {f.difference > 0 ? "+" : ""}
                {f.difference.toFixed(3)}
                {f.better && <span className="sr-only">{" "}{t("significantly better")}</span>}
                {f.worse && <span className="sr-only">{" "}{t("significantly worse")}</span>}
              </td>
              <td className="w-72 pl-4">
                <Interval f={f} />
              </td>
              <td className="text-right">{f.p.toFixed(3)}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  )
}

// Interval draws a difference between -0.5 and 0.5 with its interval.
function Interval({ f }: { f: Change }) {
  const at = (x: number) => 130 + 240 * Math.max(-0.5, Math.min(0.5, x))
  const ink = f.better ? "stroke-leaf fill-leaf" : f.worse ? "stroke-brick fill-brick" : "stroke-quiet fill-quiet"
  return (
    <svg viewBox="0 0 260 18" className="h-5 w-full" aria-hidden>
      <line x1={at(0)} x2={at(0)} y1={1} y2={17} className="stroke-line" strokeWidth={2} />
      <line x1={at(f.low)} x2={at(f.high)} y1={9} y2={9} className={ink} strokeWidth={5} strokeOpacity={0.35} />
      <circle cx={at(f.difference)} cy={9} r={4} className={ink} />
    </svg>
  )
}

function LostWhere({ causes }: { causes: Schemas["Comparison"]["causes"] }) {
  if (causes.length === 0) return null
  return (
    <section className="mt-8">
      <h2 className="text-xl">{t("Where questions were lost")}</h2>
      <table className="figures mt-2 border-collapse text-left">
        <thead className="text-sm text-quiet">
          <tr className="border-b border-line">
            <th className="py-1 pr-10 font-normal">{t("Cause")}</th>
            <th className="pr-6 text-right font-normal">{t("Before")}</th>
            <th className="text-right font-normal">{t("After")}</th>
          </tr>
        </thead>
        <tbody>
          {causes.map((c) => (
            <tr key={c.cause} className="border-b border-line">
              <th scope="row" className="py-1 pr-10 font-normal">
                {causeName(c.cause)}
              </th>
              <td className="pr-6 text-right">{c.a}</td>
              <td className="text-right">{c.b}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  )
}
