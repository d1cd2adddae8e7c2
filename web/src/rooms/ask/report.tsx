import { type FormEvent, useState } from "react"

import { useReportAnswer } from "../../api/accuracy"
import type { Answer, Asked } from "../../api/client"
import { Button } from "../../parts/button"
import { Failure } from "../../parts/notice"

// Report lets a reader tell the collection's owner that an answer is wrong, or missing.
export function Report({ collection, asked, answer }: { collection: string; asked: Asked; answer: Answer }) {
  const [open, setOpen] = useState(false)
  const [comment, setComment] = useState("")
  const report = useReportAnswer(collection)
  const says = answer.state === "not_found" ? "missing" : "wrong"
  const submit = (event: FormEvent) => {
    event.preventDefault()
    report.mutate({ question: asked.question, after: asked.after, answer: answer.short || answer.answer, says, comment: comment.trim() })
  }
  if (report.isSuccess) {
    return (
      <p role="status" className="mt-3 text-sm text-quiet">
        Thank you; the collection’s owner will see it.
      </p>
    )
  }
  return (
    <div className="mt-3 text-sm">
      <button type="button" aria-expanded={open} onClick={() => setOpen(!open)} className="text-leaf underline">
        {open ? "Never mind" : says === "missing" ? "The documents do say it" : "This is wrong"}
      </button>
      {open && (
        <form onSubmit={submit} className="mt-2 flex max-w-prose flex-wrap items-end gap-3">
          <label className="grow">
            What is right, if you know
            <input value={comment} maxLength={2000} onChange={(e) => setComment(e.target.value)} className="mt-1 block w-full rounded-md border border-quiet bg-sheet px-2 py-1" />
          </label>
          <Button type="submit" disabled={report.isPending}>
            Tell the owner
          </Button>
          {report.isError && <Failure error={report.error} />}
        </form>
      )}
    </div>
  )
}
