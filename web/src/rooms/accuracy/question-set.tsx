import { Plus } from "lucide-react"
import { useState } from "react"
import { useParams } from "react-router"

import { useGather, usePutQuestion, useRemoveQuestion, useReview, useSet } from "../../api/accuracy"
import type { Question } from "../../api/client"
import { Button } from "../../parts/button"
import { Failure, Waiting } from "../../parts/notice"
import { Coverage } from "./coverage"
import { QuestionForm } from "./question-form"
import { t } from "../../words"

const atOnce = 60

// QuestionSetRoom shows a set: drafts to accept, edit or drop first, then its questions, and what
// no question touches.
export function QuestionSetRoom() {
  const { collection = "", set = "" } = useParams()
  const data = useSet(collection, set)
  const review = useReview(collection, set)
  const gather = useGather(collection, set)
  const [sought, setSought] = useState("")
  const [edited, setEdited] = useState<Question | null>(null)
  const [most, setMost] = useState(atOnce)
  if (data.isPending) return <Waiting what={t("Fetching the questions…")} />
  if (data.isError) return <Failure error={data.error} />
  const all = (data.data.all ?? []).toSorted((a, b) => Number(b.draft ?? false) - Number(a.draft ?? false))
  const words = (q: Question) => [q.id, q.question, q.answer, q.tags?.join(" "), q.split, q.draft ? "draft" : ""].join(" ").toLowerCase()
  const rows = all.filter((q) => words(q).includes(sought.trim().toLowerCase()))
  const troubles = (id: string) => [
    ...(review.data?.stale ?? []).filter((s) => s.question === id).map((s) => s.problem),
    ...(review.data?.duplicates ?? []).filter((d) => d.question === id).map((d) => t("asks nearly the same as {id}", { id: d.of })),
  ]
  const href = (format: string) => `/api/v1/collections/${encodeURIComponent(collection)}/sets/${encodeURIComponent(set)}?format=${format}`
  return (
    <div className="max-w-6xl">
      <h1 className="text-3xl">
        {set} <span className="text-quiet">{t("version {version}", { version: data.data.version })}</span>
      </h1>
      <div className="mt-3 flex flex-wrap items-center gap-x-5 gap-y-2">
        <Button kind="main" onClick={() => setEdited({ id: "", question: "" })}>
          <Plus aria-hidden className="size-4" />
          {t("Add a question")}
        </Button>
        <Button disabled={gather.isPending} onClick={() => gather.mutate("reports")}>
          {t("Add what readers reported")}
        </Button>
        <Button disabled={gather.isPending} onClick={() => gather.mutate("conversations")}>
          {t("Add kept conversations")}
        </Button>
        {["jsonl", "csv", "topics", "qrels"].map((format) => (
          <a key={format} href={href(format)} download={`${set}.${format}`} className="text-leaf underline underline-offset-4">
            {format}
          </a>
        ))}
      </div>
      {gather.isError && <Failure error={gather.error} />}
      {edited && <QuestionForm key={edited.id} collection={collection} set={set} question={edited} onClose={() => setEdited(null)} />}
      <label className="mt-6 block">
        <span className="text-sm">{t("Words of a question, its answer, tag or split")}</span>
        <input type="search" value={sought} onChange={(e) => setSought(e.target.value)} className="mt-1 block w-80 rounded-md border border-quiet bg-sheet px-3 py-1.5" />
      </label>
      <ul className="mt-4 divide-y divide-line border-y border-line">
        {rows.slice(0, most).map((q) => (
          <Row key={q.id} q={q} troubles={troubles(q.id)} collection={collection} set={set} onEdit={() => setEdited(q)} />
        ))}
      </ul>
      {rows.length > most && (
        <Button className="mt-3" onClick={() => setMost(most + 300)}>
          {t("Show more of {rows}", { rows: rows.length })}
        </Button>
      )}
      {review.data && <Coverage all={review.data.coverage} collection={collection} />}
    </div>
  )
}

type RowProps = { q: Question; troubles: string[]; collection: string; set: string; onEdit: () => void }

function Row({ q, troubles, collection, set, onEdit }: RowProps) {
  const put = usePutQuestion(collection, set)
  const remove = useRemoveQuestion(collection, set)
  const places = [...new Set((q.evidence ?? []).flatMap((e) => (e.all ? e.all : [e])).map((p) => `${p.document} p. ${p.page}`))]
  const answer = q.answerable === false ? t("The documents do not say.") : q.answer || q.accept?.join(" or ")
  return (
    <li className={`flex flex-wrap items-start gap-x-4 gap-y-1 py-2 ${q.draft ? "bg-ochre-wash/40 px-2" : ""}`}>
      <div className="min-w-0 grow basis-96">
        <p>
          {q.question}
          {q.draft && <span className="ml-2 text-sm text-ochre">{t("draft")}</span>}
        </p>
        <p className="figures text-sm text-quiet">
          {answer}
          {places.map((p) => ` · ${p}`)}
          {q.tags && q.tags.length > 0 && ` · ${q.tags.join(", ")}`}
          {q.split && ` · ${q.split}`}
          {q.comment && ` · “${q.comment}”`}
        </p>
        {troubles.map((t) => (
          <p key={t} className="text-sm text-brick first-letter:uppercase">
            {t}
          </p>
        ))}
        {(put.isError || remove.isError) && <Failure error={put.error ?? remove.error} />}
      </div>
      <div className="flex gap-2 text-sm">
        {q.draft && (
          <Button kind="main" disabled={put.isPending} onClick={() => put.mutate({ ...q, draft: false })}>
            {t("Accept")}
          </Button>
        )}
        <Button onClick={onEdit}>{t("Edit")}</Button>
        <Button disabled={remove.isPending} onClick={() => remove.mutate(q.id)}>
          {q.draft ? t("Discard") : t("Remove")}
        </Button>
      </div>
    </li>
  )
}
