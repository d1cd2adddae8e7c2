import { Link, useNavigate, useParams } from "react-router"

import { reportOf, useMeasurement, useRemoveMeasurement, useVerdicts } from "../../api/accuracy"
import type { Figure, Measurement } from "../../api/client"
import { Button } from "../../parts/button"
import { Confirm } from "../../parts/confirm"
import { Failure, Waiting } from "../../parts/notice"
import { plural, t, when } from "../../words"
import { Causes, Reliability, RiskCurve } from "./charts"
import { figureName } from "./figures"
import { Kinds } from "./kinds"
import { Records } from "./records"

// MeasurementRoom shows one measurement: its figures with their intervals, where questions were
// lost, whether the confidence can be believed, and a row a question.
export function MeasurementRoom() {
  const { measurement = "", collection = "" } = useParams()
  const m = useMeasurement(measurement)
  if (m.isPending) return <Waiting what={t("Fetching the measurement…")} />
  if (m.isError) return <Failure error={m.error} />
  return (
    <div>
      <Head m={m.data} collection={collection} />
      <table className="figures mt-6 w-full max-w-5xl border-collapse text-left">
        <caption className="sr-only">{t("Figures with their 95 % intervals")}</caption>
        <tbody>
          {m.data.figures.map((f) => (
            <FigureRow key={f.name} figure={f} />
          ))}
        </tbody>
      </table>
      <Causes causes={m.data.causes ?? {}} />
      {m.data.calibration && (
        <div className="mt-10 grid gap-8 lg:grid-cols-2">
          <RiskCurve c={m.data.calibration} />
          <Reliability c={m.data.calibration} />
        </div>
      )}
      <Kinds m={m.data} />
      <Records m={m.data} collection={collection} />
    </div>
  )
}

function Head({ m, collection }: { m: Measurement; collection: string }) {
  const { subject, question_set: set } = m
  const remove = useRemoveMeasurement()
  const verdicts = useVerdicts(m.id)
  const go = useNavigate()
  return (
    <>
      <h1 className="text-3xl">
        {set.name}
        {set.version !== undefined && <span className="text-quiet">{" "}{t("version {version}", { version: set.version })}</span>}
      </h1>
      <p className="figures mt-2 text-quiet">
        {t("{questions} on {documents}, {pages}; set-up {setup}; {when}", {
          questions: plural(set.questions, "{n} question|{n} questions") + (set.part ? ` (${set.part})` : ""),
          documents: plural(subject.documents, "{n} document|{n} documents"),
          pages: plural(subject.pages, "{n} page|{n} pages") + (subject.lessons > 0 ? `, ${plural(subject.lessons, "{n} lesson|{n} lessons")}` : ""),
          setup: subject.setup || t("live"),
          when: when(m.created),
        })}
      </p>
      <div className="mt-4 flex flex-wrap items-center gap-x-5 gap-y-2">
        <a href={reportOf(m.id, "html")} className="text-leaf underline underline-offset-4">
          {t("Report")}
        </a>
        {(["markdown", "junit", "run"] as const).map((format) => (
          <a key={format} href={reportOf(m.id, format)} className="text-leaf underline underline-offset-4">
            {{ markdown: t("As Markdown"), junit: t("As JUnit XML"), run: t("As TREC run") }[format]}
          </a>
        ))}
        <Link to={`/c/${collection}/accuracy/judge/${m.id}`} className="text-leaf underline underline-offset-4">
          {t("Judge its answers")}
        </Link>
        <Confirm
          trigger={<Button>{t("Remove")}</Button>}
          title={t("Remove this measurement?")}
          text={t("What people judged of its answers goes too.")}
          action={t("Remove")}
          onConfirm={() => remove.mutate(m.id, { onSuccess: () => go(`/c/${collection}/accuracy`) })}
        />
      </div>
      {verdicts.data && verdicts.data.verdicts.length > 0 && (
        <p className="figures mt-3 text-quiet">
          {t("Judged by {people}", { people: Object.entries(verdicts.data.judges).map(([name, n]) => `${name} (${n})`).join(", ") })}
          {verdicts.data.agreements.map((a) => t("; {judges} agree with κ = {kappa}", { judges: a.judges.join(", "), kappa: a.kappa.toFixed(2) }))}
        </p>
      )}
    </>
  )
}

function FigureRow({ figure: f }: { figure: Figure }) {
  const at = (x: number) => 4 + 292 * x
  return (
    <tr className="border-b border-line">
      <th scope="row" className="py-2 font-normal">
        {figureName(f.name)}
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
        {f.low.toFixed(3)} – {f.high.toFixed(3)}, {plural(f.questions, "{n} question|{n} questions")}
      </td>
    </tr>
  )
}
