import type { FormEvent } from "react"

import { useReportAnswer } from "../../api/accuracy"
import type { Answer, Asked } from "../../api/client"
import { Button } from "../../parts/button"
import { useDraft } from "../../parts/draft"
import { field } from "../../parts/field"
import { Failure } from "../../parts/notice"
import { t } from "../../words"

// Report lets a reader tell the collection's owner that an answer is wrong, or ask them for one.
export function Report({ collection, asked, answer }: { collection: string; asked: Asked; answer: Answer }) {
  const [comment, setComment] = useDraft(`comment ${asked.question}`)
  const report = useReportAnswer(collection)
  const missing = answer.state === "not_found"
  const submit = (event: FormEvent) => {
    event.preventDefault()
    const said = { question: asked.question, after: asked.after, answer: answer.short || answer.answer, comment: comment.trim() }
    report.mutate({ ...said, says: missing ? "missing" : "wrong" }, { onSuccess: () => setComment("") })
  }
  if (report.isSuccess) {
    return (
      <p role="status" className="mt-3 text-sm text-quiet">
        {missing ? t("The collection’s owner has your question now.") : t("Thank you; the collection’s owner will see it.")}
      </p>
    )
  }
  return (
    <form onSubmit={submit} className="mt-3 flex max-w-prose flex-wrap items-end gap-3 text-sm">
      <label className="min-w-48 grow">
        {missing ? t("What you need to know, or where it may stand (you may leave this empty)") : t("What is right, if you know")}
        <input value={comment} maxLength={2000} onChange={(e) => setComment(e.target.value)} className={`${field} mt-1 block w-full`} />
      </label>
      <Button type="submit" disabled={report.isPending}>
        {missing ? t("Ask the owner") : t("Tell the owner")}
      </Button>
      {report.isError && <Failure error={report.error} />}
    </form>
  )
}
