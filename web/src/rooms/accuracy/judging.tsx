import { useEffect, useState } from "react"
import { Link, useParams } from "react-router"

import { useJudge, useNextToJudge } from "../../api/accuracy"
import type { Schemas } from "../../api/client"
import { Button } from "../../parts/button"
import { Choose } from "../../parts/choose"
import { Failure, Waiting } from "../../parts/notice"
import { PagePicture } from "../../parts/page-picture"
import { causes } from "./causes"
import { t } from "../../words"

type ToJudge = Schemas["ToJudge"]
type Says = Schemas["Judged"]["says"]

const keys: [key: string, says: Says, what: string][] = [
  ["1", "right", t("Right")],
  ["2", "partly", t("Partly")],
  ["3", "wrong", t("Wrong")],
  ["4", "cannot say", t("Cannot say")],
]

// JudgingRoom has a person judge answers one after the other, with the page beside each and
// without being told which set-up gave it. Everything can be done from the keyboard.
export function JudgingRoom() {
  const { collection = "", measurements = "" } = useParams()
  const next = useNextToJudge(measurements)
  const several = measurements.includes(",")
  if (next.isPending) return <Waiting what={t("Fetching an answer…")} />
  if (next.isError) return <Failure error={next.error} />
  if (!next.data) {
    return (
      <div className="max-w-prose">
        <h1 className="text-3xl">{t("All judged")}</h1>
        <p className="mt-2">
          {several ? t("What you said is kept with the measurements.") : t("What you said is kept with the measurement.")}{" "}
          {measurements.split(",").map((id) => (
            <Link key={id} to={`/c/${collection}/accuracy/${id}`} className="mr-3 text-leaf underline underline-offset-4">
              {several ? t("To {id}", { id }) : t("To the measurement")}
            </Link>
          ))}
        </p>
      </div>
    )
  }
  return <One key={next.data.ticket} next={next.data} measurements={measurements} collection={collection} several={several} />
}

function One({ next, measurements, collection, several }: { next: ToJudge; measurements: string; collection: string; several: boolean }) {
  const judge = useJudge(measurements)
  const [cause, setCause] = useState("")
  const [comment, setComment] = useState("")
  const say = (says: Says) => {
    if (!judge.isPending) judge.mutate({ ticket: next.ticket, says, cause: (cause || undefined) as Schemas["Cause"], comment: comment || undefined })
  }
  useEffect(() => {
    const press = (e: KeyboardEvent) => {
      const typing = e.target instanceof HTMLElement && e.target.closest("input, select, textarea")
      const said = keys.find(([key]) => key === e.key)
      if (said && !typing && !e.ctrlKey && !e.metaKey && !e.altKey) say(said[1])
    }
    window.addEventListener("keydown", press)
    return () => window.removeEventListener("keydown", press)
  })
  const cite = next.citations?.[0]
  const expected = (next.evidence ?? []).flatMap((e) => (e.all ? e.all : [e]))[0]
  return (
    <div className="grid gap-10 lg:grid-cols-[minmax(0,6fr)_minmax(0,5fr)]">
      <div>
        <p className="figures text-sm text-quiet">
          {t("{n} of {of}", { n: next.of - next.left + 1, of: next.of })}
          {several && t("; you are not told which set-up gave the answer")}
        </p>
        <h1 className="mt-2 text-2xl">{next.question}</h1>
        <p className="mt-4 whitespace-pre-line border-l-4 border-leaf pl-4 font-serif text-lg">{next.refused ? t("The documents do not say.") : next.answer}</p>
        {next.expected && (
          <p className="mt-3 text-quiet">
            {t("Expected: {expected}", { expected: next.expected })}
            {expected && t(", on page {page} of {document}", { page: expected.page, document: expected.document })}
          </p>
        )}
        <div role="group" aria-label={t("The answer is")} className="mt-6 flex flex-wrap gap-3">
          {keys.map(([key, says, what]) => (
            <Button key={key} kind={says === "right" ? "main" : "plain"} disabled={judge.isPending} aria-keyshortcuts={key} onClick={() => say(says)}>
              {what} <kbd className="figures rounded border border-current px-1.5 text-xs">{key}</kbd>
            </Button>
          ))}
        </div>
        <div className="mt-5 flex flex-wrap gap-4 text-sm">
          <Choose label={t("Where it was lost, if you can tell")} value={cause} onChange={setCause} of={[["", t("none named")], ...causes.map(([code, name]) => [code, name] as const)]} />
          <label className="grow">
            {t("Comment")}
            <input value={comment} maxLength={2000} onChange={(e) => setComment(e.target.value)} className="mt-1 block w-full rounded-md border border-quiet bg-sheet px-2 py-1" />
          </label>
        </div>
        {judge.isError && <Failure error={judge.error} />}
      </div>
      <div>
        {cite ? (
          <Shown collection={collection} document={cite.document_id} name={cite.document} page={cite.page} marks={cite.boxes} />
        ) : expected?.document ? (
          <Shown collection={collection} document={expected.document} name={expected.document} page={expected.page ?? 1} marks={[]} />
        ) : (
          <p className="text-quiet">{t("The documents should not answer this question.")}</p>
        )}
      </div>
    </div>
  )
}

function Shown({ collection, document, name, page, marks }: { collection: string; document: string; name: string; page: number; marks: Schemas["Box"][] }) {
  return (
    <>
      <p className="mb-2 text-sm text-quiet">
        {t("{name}, page {page}", { name, page })}
      </p>
      <PagePicture collection={collection} document={document} number={page} marks={marks} />
    </>
  )
}
