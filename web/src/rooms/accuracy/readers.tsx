import { Link, useParams } from "react-router"

import { useReports, useSettleReport } from "../../api/accuracy"
import type { Schemas } from "../../api/client"
import { Button } from "../../parts/button"
import { Empty, Failure, Waiting } from "../../parts/notice"
import { tell } from "../../parts/toast"
import { t, when } from "../../words"

// Readers is what readers asked a person, or said of an answer, for the owner to see to.
export function Readers() {
  const { collection = "" } = useParams()
  const reports = useReports(collection)
  const open = (reports.data ?? []).filter((r) => !r.done)
  const done = (reports.data ?? []).filter((r) => r.done)
  return (
    <div className="max-w-4xl">
      <h1 className="text-3xl">{t("From readers")}</h1>
      <p className="mt-2 max-w-prose text-quiet">{t("Questions that the documents did not answer and somebody wants answered, and answers that somebody says are wrong.")}</p>
      {reports.isPending && <Waiting what={t("Looking up what readers said…")} />}
      {reports.isError && <Failure error={reports.error} />}
      {reports.data && open.length === 0 && (
        <div className="mt-6">
          <Empty title={t("Nothing waits for you")}>{t("What readers say under an answer comes here.")}</Empty>
        </div>
      )}
      <ul className="mt-6 divide-y divide-line">
        {open.map((r) => (
          <Report key={r.id} collection={collection} report={r} />
        ))}
      </ul>
      {open.length > 0 && (
        <p className="mt-4">
          <Link to={`/c/${collection}/accuracy/questions`} className="text-leaf underline underline-offset-4">
            {t("Add them to a question set, so that it shows when they are answered")}
          </Link>
        </p>
      )}
      {done.length > 0 && (
        <details className="mt-8">
          <summary className="cursor-pointer text-quiet hover:text-ink">{t("Done: {n}", { n: done.length })}</summary>
          <ul className="mt-2 divide-y divide-line">
            {done.map((r) => (
              <Report key={r.id} collection={collection} report={r} />
            ))}
          </ul>
        </details>
      )}
    </div>
  )
}

const says = { missing: t("wants an answer"), wrong: t("says this is wrong"), right: t("says this is right") }

function Report({ collection, report: r }: { collection: string; report: Schemas["Report"] }) {
  const settle = useSettleReport(collection)
  const set = (done: boolean) => settle.mutate({ report: r.id ?? "", done }, { onSuccess: () => done && tell(t("Taken off the list."), () => set(false)) })
  const asked = new URLSearchParams([...(r.after ?? []), r.question].map((q) => ["q", q]))
  return (
    <li className="flex flex-wrap items-start gap-x-6 gap-y-2 py-3">
      <div className="min-w-0 grow basis-96">
        <p className="text-sm text-quiet">
          {r.by || t("Somebody")} {says[r.says]}
          {r.at && `, ${when(r.at)}`}
        </p>
        <p className="mt-0.5 font-serif text-lg">{r.question}</p>
        {r.answer && r.says !== "missing" && <p className="text-quiet">{t("Answered: {answer}", { answer: r.answer })}</p>}
        {r.comment && <p className="mt-1 border-l-2 border-ochre pl-3">{r.comment}</p>}
        {settle.isError && <Failure error={settle.error} />}
      </div>
      <span className="flex gap-3">
        <Link to={`/c/${collection}/ask?${asked}`} className="self-center text-leaf underline underline-offset-4">
          {t("Ask it")}
        </Link>
        <Button disabled={settle.isPending} onClick={() => set(!r.done)}>
          {r.done ? t("Open again") : t("Done")}
        </Button>
      </span>
    </li>
  )
}
